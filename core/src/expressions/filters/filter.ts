import type { Kernels } from '../../pixels/kernels';

/** What a filter is asked to do, as plain data: its id, and numbers of which each filter says what they mean. */
export interface Filtering {
  readonly filter: string;
  readonly numbers: readonly number[];
}

/** A part of an image, in its pixels. */
export interface Piece {
  readonly left: number;
  readonly top: number;
  readonly cols: number;
  readonly rows: number;
}

/**
 * Makes a piece of an image of w x h pixels, at `d`, where the whole of it has room, out of the same image at `s`, whose border goes on.
 * (ox, oy) is where its first pixel lies in the picture; `scratch` are the filter's own bytes.
 */
export type Filtered = (d: number, s: number, w: number, h: number, piece: Piece, ox: number, oy: number, table: number, scratch: number) => void;

/** A filter of pixels by their neighbours that is no Gaussian. It takes and gives four values a pixel, premultiplied. */
export interface Filter {
  readonly id: string;
  /** How many times smaller the image may be on which it works: a power of two. Pixels are reduced before, and grown back after it. */
  readonly factor: (numbers: readonly number[]) => number;
  /** How far it reads, in pixels of the image that it works on. */
  readonly reach: (numbers: readonly number[], factor: number) => number;
  /** What its loop looks up. */
  readonly table: (numbers: readonly number[], factor: number) => Float32Array;
  /** Bytes of scratch, for an image of w x h pixels. */
  readonly scratch: (w: number, h: number) => number;
  /** It is a mean with fixed weights, so that it can take in only a part of what it reads; others look at all of it. */
  readonly mean: boolean;
  /** Nanoseconds a pixel, about, at full size. */
  readonly cost: number;
  readonly bind: (k: Kernels) => Filtered;
}
