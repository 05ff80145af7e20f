import type { Drawing, FromWorker, Gamut, Tones } from '@bexlen/core';

export interface Frame {
  readonly image: ImageData;
  /** The machine that made it. */
  readonly by: Drawing['machine'];
  readonly tones?: Tones;
  readonly ms: number;
}

/** A frame out of what the engine says, of some primaries. @param room where the bytes of the image go; into new memory, unless given. */
export function toFrame(
  { width, height, pixels, tones, ms, by }: Extract<FromWorker, { type: 'rendered' }>,
  colorSpace: Gamut,
  room?: (bytes: number) => Uint8ClampedArray<ArrayBuffer>,
): Frame {
  const image = room ? new ImageData(room(pixels.byteLength), width, height, { colorSpace }) : new ImageData(width, height, { colorSpace });
  image.data.set(pixels);
  return { image, ms, by, ...(tones && { tones }) };
}
