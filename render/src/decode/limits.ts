import { BexlenError } from '@bexlen/core';

/** Pixels of a picture that can be worked on. */
export const MAX_PIXELS = 200e6;
/** Pixels along a side at most, as JPEG has them, and bytes of the decoded pixels. */
const MAX_SIDE = 65_500;
const MAX_BYTES = 800e6;

/** Throws where a picture of some size is larger than can be worked on. */
export function checkSize(name: string, { width, height, channels }: { width: number; height: number; channels: number }, depth: 8 | 16): void {
  const smaller = 'Make it smaller and import it again.';
  if (width * height > MAX_PIXELS)
    throw new BexlenError('too-many-pixels', `${name} claims ${width} x ${height} pixels; the limit is ${MAX_PIXELS / 1e6} megapixels.`, smaller);
  if (Math.max(width, height) > MAX_SIDE)
    throw new BexlenError('too-many-pixels', `${name} is ${width} x ${height} pixels; a side has at most ${MAX_SIDE}.`, smaller);
  if (width * height * channels * (depth / 8) > MAX_BYTES)
    throw new BexlenError(
      'too-many-pixels',
      `${name} takes more than ${MAX_BYTES / 1e6} MB when it is unpacked.`,
      'Make it smaller, or save it with 8 bits, and import it again.',
    );
}
