import type { Gamut } from '../pixels/gamut';

/** Pixels of a screen: rows of straight RGBA bytes. */
export interface Bytes {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray | Uint8Array;
  /** Their primaries; those of sRGB, unless said. */
  readonly colorSpace?: Gamut;
}
