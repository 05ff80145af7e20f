import fs from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import { BexlenError, bytesPerPixel, type Gamut, type Layout } from '@bexlen/core';
import { formatOf, type FormatId, type Ground } from '@bexlen/api';
import type { Metadata } from '../decode/metadata';
import { profileOf, withJpegProfile, withPngProfile } from '../decode/profile';
import { encodeJpeg } from './strips';
import type { JpegWish } from '../decode/turbo';
import { withTiffMetadata } from './tiff-metadata';
import { withJpegMetadata, withPngMetadata } from './write-metadata';

export interface Wish {
  readonly format: FormatId;
  /** The primaries of the pixels; those of sRGB, unless said. */
  readonly gamut?: Gamut;
  /** 1..100, of formats that have one. */
  readonly quality?: number | undefined;
  readonly depth?: 8 | 16 | undefined;
  /** What a format without transparency lays it on; white, unless said. */
  readonly ground?: Ground | undefined;
}

const GROUNDS: Record<Ground, string> = { white: '#ffffff', grey: '#808080', black: '#000000' };

/** Pixels with alpha, of 8 bits, on their ground. */
async function grounded(pixels: Uint8Array, { width, height }: Layout, { ground = 'white' }: Wish): Promise<Uint8Array> {
  const data = Buffer.from(pixels.buffer, pixels.byteOffset, pixels.byteLength);
  return sharp(data, { raw: { width, height, channels: 4 }, limitInputPixels: false })
    .flatten({ background: GROUNDS[ground] })
    .raw()
    .toBuffer();
}

export const depthOf = ({ format, depth }: Wish): 8 | 16 => depth ?? formatOf(format).depth;
const qualityOf = ({ format, quality }: Wish): number => quality ?? formatOf(format).quality ?? 100;

/** How a quality is coded: high ones keep the colour of every pixel. */
export const jpegWish = (wish: Wish): JpegWish => ({ quality: qualityOf(wish), sampling: qualityOf(wish) >= 90 ? '4:4:4' : '4:2:0' });

/** How the library writes all others; it is handed a PNG with profile and metadata in it, which it passes on without touching the pixels, and which is the file itself where that is wanted. */
const LIBRARY: Record<Exclude<FormatId, 'jpeg'>, ((image: Sharp, wish: Wish) => Sharp) | 'as it is'> = {
  png: 'as it is',
  tiff: (image) => image.tiff({ compression: 'deflate', predictor: 'horizontal' }),
  webp: (image, wish) => image.webp({ quality: qualityOf(wish), smartSubsample: true }),
  avif: (image, wish) => image.avif({ quality: qualityOf(wish), effort: 0, chromaSubsampling: qualityOf(wish) >= 80 ? '4:4:4' : '4:2:0' }),
};

/** Throws where a format cannot hold a picture of a size. */
export function checkSides({ format }: Wish, { width, height }: { readonly width: number; readonly height: number }): void {
  const { label, mostSide } = formatOf(format);
  if (Math.max(width, height) > mostSide)
    throw new BexlenError(
      'too-many-pixels',
      `${label} holds at most ${mostSide} pixels along a side; this picture has ${Math.max(width, height)}.`,
      'Choose a smaller size, or another format.',
    );
}

/** Finished pixels as the bytes of a file, in parts, with the profile of their primaries and what is carried over of the original. JPEG takes 8-bit pixels, and lays those with alpha on its ground. */
export async function encoded(pixels: Uint8Array, layout: Layout, wish: Wish, metadata: Metadata = {}): Promise<Buffer[]> {
  const { width, height, channels, depth } = layout;
  const samples = width * height * channels;
  if (pixels.byteLength !== samples * (depth / 8))
    throw new Error(`expected ${width * height * bytesPerPixel(layout)} bytes, got ${pixels.byteLength}`);
  if (wish.format === 'jpeg') {
    const opaque = channels === 4 ? await grounded(pixels, layout, wish) : pixels;
    return jpegParts([await encodeJpeg(opaque, width, jpegWish(wish))], wish.gamut, metadata);
  }
  const raw = { width, height, channels };
  const data = depth === 16 ? new Uint16Array(pixels.buffer, pixels.byteOffset, samples) : Buffer.from(pixels.buffer, pixels.byteOffset, samples);
  const image = sharp(data, { raw, limitInputPixels: false });
  const deep = (it: Sharp): Sharp => (depth === 16 ? it.toColourspace('rgb16') : it);
  const png = await deep(image)
    .png({ compressionLevel: wish.format === 'png' ? 6 : 1 })
    .toBuffer();
  const tagged = withPngMetadata(withPngProfile(png, await profileOf(wish.gamut), wish.gamut ?? 'sRGB'), metadata);
  const write = LIBRARY[wish.format];
  if (write === 'as it is') return tagged;
  const again = sharp(Buffer.concat(tagged), { limitInputPixels: false }).keepIccProfile();
  if (metadata.exif) again.keepExif();
  if (metadata.xmp) again.keepXmp();
  const bytes = await write(deep(again), wish).toBuffer();
  return [wish.format === 'tiff' ? withTiffMetadata(bytes, metadata) : bytes];
}

/** Writes finished pixels to a file. Returns the bytes written. */
export const encode = async (pixels: Uint8Array, layout: Layout, wish: Wish, file: string, metadata?: Metadata): Promise<number> =>
  write(file, await encoded(pixels, layout, wish, metadata));

/** Writes a JPEG, given in parts of which the first holds its headers, with the profile. Returns the bytes written. */
export const writeJpeg = async (file: string, parts: readonly Buffer[], gamut?: Gamut, metadata: Metadata = {}): Promise<number> =>
  write(file, await jpegParts(parts, gamut, metadata));

async function jpegParts([first, ...rest]: readonly Buffer[], gamut: Gamut | undefined, metadata: Metadata): Promise<Buffer[]> {
  if (!first) throw new Error('a JPEG without parts');
  // The library would convert the pixels when it attaches a profile; they are right already, so it is put in afterwards.
  const tagged = Buffer.concat(withJpegProfile(first, await profileOf(gamut)));
  return [...withJpegMetadata(tagged, metadata), ...rest];
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
