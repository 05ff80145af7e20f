import fs from 'node:fs/promises';
import sharp from 'sharp';
import { bytesPerPixel, type Gamut, type Layout } from '@bexlen/core';
import { profileOf, withJpegProfile, withPngProfile } from './profile';
import { encodeJpeg } from './strips';
import type { JpegWish } from './turbo';

export type Wish = { readonly gamut?: Gamut } & (
  { readonly format: 'jpeg'; readonly quality: number } | { readonly format: 'png' | 'tiff'; readonly depth: 8 | 16 }
);

/** How a quality is coded: high ones keep the colour of every pixel. */
export const jpegWish = (quality: number): JpegWish => ({ quality, sampling: quality >= 90 ? '4:4:4' : '4:2:0' });

/** Writes finished pixels to a file, with the profile of their primaries in it. JPEG takes opaque 8-bit pixels. Returns the bytes written. */
export async function encode(pixels: Uint8Array, layout: Layout, wish: Wish, file: string): Promise<number> {
  const { width, height, channels, depth } = layout;
  const samples = width * height * channels;
  if (pixels.byteLength !== samples * (depth / 8))
    throw new Error(`expected ${width * height * bytesPerPixel(layout)} bytes, got ${pixels.byteLength}`);
  if (wish.format === 'jpeg') return writeJpeg(file, [await encodeJpeg(pixels, width, jpegWish(wish.quality))], wish.gamut);
  const raw = { width, height, channels };
  const data = depth === 16 ? new Uint16Array(pixels.buffer, pixels.byteOffset, samples) : Buffer.from(pixels.buffer, pixels.byteOffset, samples);
  const image = sharp(data, { raw, limitInputPixels: false });
  const png = await (depth === 16 ? image.toColourspace('rgb16') : image).png({ compressionLevel: wish.format === 'png' ? 6 : 1 }).toBuffer();
  const tagged = withPngProfile(png, await profileOf(wish.gamut), wish.gamut ?? 'sRGB');
  if (wish.format === 'png') return write(file, tagged);
  // A profile that came with the pixels is passed on without touching them.
  const again = sharp(Buffer.concat(tagged), { limitInputPixels: false }).keepIccProfile();
  return write(file, [
    await (depth === 16 ? again.toColourspace('rgb16') : again).tiff({ compression: 'deflate', predictor: 'horizontal' }).toBuffer(),
  ]);
}

/** Writes a JPEG, given in parts of which the first holds its headers, with the profile. Returns the bytes written. */
export async function writeJpeg(file: string, [first, ...rest]: readonly Buffer[], gamut?: Gamut): Promise<number> {
  if (!first) throw new Error('a JPEG without parts');
  // The library would convert the pixels when it attaches a profile; they are right already, so it is put in afterwards.
  return write(file, [...withJpegProfile(first, await profileOf(gamut)), ...rest]);
}

async function write(file: string, parts: readonly Buffer[]): Promise<number> {
  const handle = await fs.open(file, 'w');
  try {
    for (const part of parts) await handle.writeFile(part);
  } finally {
    await handle.close();
  }
  return parts.reduce((sum, part) => sum + part.length, 0);
}
