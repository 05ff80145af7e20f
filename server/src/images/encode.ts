import fs from 'node:fs/promises';
import sharp from 'sharp';
import { bytesPerPixel, type Layout } from '@bexlen/core';
import { srgbProfile, withPngProfile } from './profile';

export type Wish = { readonly format: 'jpeg'; readonly quality: number } | { readonly format: 'png' };

/** Writes finished sRGB pixels to a file, with the sRGB profile in it. JPEG takes opaque 8-bit pixels. Returns the bytes written. */
export async function encode(pixels: Uint8Array, layout: Layout, wish: Wish, file: string): Promise<number> {
  const { width, height, channels, depth } = layout;
  const samples = width * height * channels;
  if (pixels.byteLength !== samples * (depth / 8))
    throw new Error(`expected ${width * height * bytesPerPixel(layout)} bytes, got ${pixels.byteLength}`);
  const raw = { width, height, channels };
  if (depth === 16) return deepPng(new Uint16Array(pixels.buffer, pixels.byteOffset, samples), raw, file);
  const image = sharp(Buffer.from(pixels.buffer, pixels.byteOffset, samples), { raw, limitInputPixels: false }).withIccProfile('srgb');
  const encoded =
    wish.format === 'jpeg' ? image.jpeg({ quality: wish.quality, chromaSubsampling: wish.quality >= 90 ? '4:4:4' : '4:2:0' }) : image.png();
  return (await encoded.toFile(file)).size;
}

/** The library would take 16-bit pixels for a wider space when it attaches a profile, so the profile is put in afterwards. */
async function deepPng(samples: Uint16Array, raw: { width: number; height: number; channels: 3 | 4 }, file: string): Promise<number> {
  const png = await sharp(samples, { raw, limitInputPixels: false }).toColourspace('rgb16').png().toBuffer();
  const parts = withPngProfile(png, await srgbProfile(), 'sRGB');
  const handle = await fs.open(file, 'w');
  try {
    await handle.writev(parts);
  } finally {
    await handle.close();
  }
  return parts.reduce((sum, part) => sum + part.length, 0);
}
