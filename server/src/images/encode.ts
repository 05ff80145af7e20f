import fs from 'node:fs/promises';
import sharp from 'sharp';
import { bytesPerPixel, type Layout } from '@bexlen/core';
import { srgbProfile, withJpegProfile, withPngProfile } from './profile';

export type Wish = { readonly format: 'jpeg'; readonly quality: number } | { readonly format: 'png' };

/** Writes finished sRGB pixels to a file, with the sRGB profile in it. JPEG takes opaque 8-bit pixels. Returns the bytes written. */
export async function encode(pixels: Uint8Array, layout: Layout, wish: Wish, file: string): Promise<number> {
  const { width, height, channels, depth } = layout;
  const samples = width * height * channels;
  if (pixels.byteLength !== samples * (depth / 8))
    throw new Error(`expected ${width * height * bytesPerPixel(layout)} bytes, got ${pixels.byteLength}`);
  const raw = { width, height, channels };
  const data = depth === 16 ? new Uint16Array(pixels.buffer, pixels.byteOffset, samples) : Buffer.from(pixels.buffer, pixels.byteOffset, samples);
  const image = sharp(data, { raw, limitInputPixels: false });
  // The library would convert the pixels when it attaches a profile; they are sRGB already, so it is put in afterwards.
  const profile = await srgbProfile();
  if (wish.format === 'png')
    return write(file, withPngProfile(await (depth === 16 ? image.toColourspace('rgb16') : image).png().toBuffer(), profile, 'sRGB'));
  const sampling = wish.quality >= 90 ? '4:4:4' : '4:2:0';
  return write(file, withJpegProfile(await image.jpeg({ quality: wish.quality, chromaSubsampling: sampling }).toBuffer(), profile));
}

async function write(file: string, parts: Buffer[]): Promise<number> {
  const handle = await fs.open(file, 'w');
  try {
    for (const part of parts) await handle.writeFile(part);
  } finally {
    await handle.close();
  }
  return parts.reduce((sum, part) => sum + part.length, 0);
}
