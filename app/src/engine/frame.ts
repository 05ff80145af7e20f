import type { Drawing, FromWorker, Tones } from '@bexlen/core/engine';
import type { Gamut } from '@bexlen/core';
import { newImage } from '../state/wide';

export interface Frame {
  /** Its pixels; those of an earlier frame where it is only seen. */
  readonly image: ImageData;
  /** What is seen in the place of them. To be closed when the next frame is there. */
  readonly seen?: ImageBitmap;
  /** The machine that made it. */
  readonly by: Drawing['machine'];
  readonly tones?: Tones;
  readonly ms: number;
}

/** A frame out of what the engine says, of some primaries. @param room where the bytes of the image go; into new memory, unless given. @param last the pixels of an earlier frame. */
export function toFrame(
  { width, height, pixels, image: seen, tones, ms, by }: Extract<FromWorker, { type: 'rendered' }>,
  gamut: Gamut,
  room?: (bytes: number) => Uint8ClampedArray<ArrayBuffer>,
  last?: ImageData,
): Frame {
  if (seen && last) return { image: last, seen, ms, by, ...(tones && { tones }) };
  const image = newImage(width, height, gamut, room?.(pixels.byteLength));
  image.data.set(pixels);
  return { image, ms, by, ...(tones && { tones }) };
}
