import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { BexlenError, type Gamut } from '@bexlen/core';
import { THUMB_EDGE } from '@bexlen/api';
import { develop as developHeic, isHeic } from './heic';
import { checkSize, MAX_PIXELS } from './limits';
import { dateIn } from './metadata';
import { codedPrimaries } from './coded-primaries';
import { bytesAsShot, develop as developRaw, isRawFormat, rawFormatOf, type Developed } from './raw';
import { primariesOf, type Primaries } from './primaries';
import { profileOf, withJpegProfile } from './profile';

const FORMATS: Record<string, string> = { jpeg: 'JPEG', png: 'PNG', tiff: 'TIFF', webp: 'WebP', heif: 'AVIF' };
export const READS = 'JPEG, PNG, TIFF, WebP, AVIF, HEIC and raw files of cameras';
const HEIC = 'HEIC';
/** Whether photos of a format are developed into a PNG before they are read. */
export const isDeveloped = (format: string): boolean => format === HEIC || isRawFormat(format);

/** Develops a photo of such a format. */
export async function develop(file: string, name: string, format: string, to: string): Promise<void> {
  await (format === HEIC ? developHeic(file, name, to) : developRaw(file, name, to));
}

export interface Inspected {
  readonly format: string;
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
  readonly alpha: boolean;
  /** The primaries that it is worked on in. */
  readonly gamut: Gamut;
  /** Of a raw file: light that the largest value of what it is developed into stands for, as a multiple of white. */
  readonly headroom?: number;
  /** When the photo was taken, as its camera says; in no time zone. */
  readonly takenAt?: string;
}

/**
 * Looks at a file and reads it once from end to end, which gives a JPEG for the shelf, written to `thumb` if one is wanted, and the PNG that a HEIC photo or a raw file is developed into. Throws a
 * fault that says what is wrong with it.
 */
export async function inspect(file: string, name: string, thumb?: string, developed?: string): Promise<Inspected> {
  const rawFormat = rawFormatOf(name);
  if (rawFormat) return inspectDeveloped(rawFormat, (to) => developRaw(file, name, to), name, thumb, developed);
  const meta = await sharp(file, { limitInputPixels: false })
    .metadata()
    .catch(() => {
      throw new BexlenError('no-picture', `${name} is not a picture that can be read.`, `Bexlen reads ${READS}.`);
    });
  if (isHeic(meta)) {
    const taken = meta.exif && dateIn(meta.exif);
    const heic = async (to: string): Promise<Partial<Developed>> => (await developHeic(file, name, to), taken ? { takenAt: taken } : {});
    return inspectDeveloped(HEIC, heic, name, thumb, developed);
  }
  const format = FORMATS[meta.format];
  if (!format || (meta.format === 'heif' && meta.compression !== 'av1'))
    throw new BexlenError('unsupported-format', `${name} is a ${meta.format.toUpperCase()} file.`, `Bexlen reads ${READS}.`);
  const coded = meta.icc ? undefined : await codedPrimaries(file, format);
  const { gamut, native } = meta.icc && meta.space !== 'cmyk' ? primariesOf(meta.icc) : (coded ?? SRGB);
  // What is wider or otherwise encoded is converted, in steps that are too fine to be seen.
  const depth = meta.depth === 'uchar' && (gamut === 'srgb' || native) ? 8 : 16;
  checkSize(name, meta, depth);
  const turned = (meta.orientation ?? 1) >= 5;
  const isP3 = gamut === 'display-p3' && native;
  const whole = sharp(file, { limitInputPixels: MAX_PIXELS, failOn: 'warning', ignoreIcc: isP3 });
  await small(whole, meta.orientation ?? 1)
    .then((image) => image.flatten({ background: '#808080' }).toColourspace('srgb').jpeg({ quality: 86 }).toBuffer())
    .then(async (jpeg) => {
      if (thumb !== undefined) await fs.writeFile(thumb, isP3 ? withJpegProfile(jpeg, await profileOf('display-p3')) : jpeg);
    })
    .catch(() => {
      throw new BexlenError('damaged-picture', `${name} is damaged or cut off.`, 'Copy it again from where it came from, then import that.');
    });
  const [width, height] = turned ? [meta.height, meta.width] : [meta.width, meta.height];
  const takenAt = meta.exif && dateIn(meta.exif);
  return { format, width, height, depth, alpha: meta.hasAlpha, gamut, ...(takenAt && { takenAt }) };
}

/** Looks at what a photo is developed into. @param developed where that is kept; nowhere, unless given. */
async function inspectDeveloped(
  format: string,
  develop: (to: string) => Promise<Partial<Developed>>,
  name: string,
  thumb?: string,
  developed?: string,
): Promise<Inspected> {
  const folder = developed === undefined ? await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-developed-')) : undefined;
  const png = developed ?? path.join(folder ?? '', 'developed.png');
  try {
    const { takenAt, headroom } = await develop(png);
    const seen = await inspect(png, 'developed.png', headroom === undefined ? thumb : undefined);
    if (thumb !== undefined && headroom !== undefined) await thumbOfRaw(png, headroom, thumb);
    return { ...seen, format, ...(headroom !== undefined && { headroom }), ...(takenAt && { takenAt }) };
  } finally {
    if (folder) await fs.rm(folder, { recursive: true, force: true });
  }
}

/** The shelf's JPEG of a developed raw file, in Display P3. */
async function thumbOfRaw(png: string, headroom: number, to: string): Promise<void> {
  const { data, info } = await sharp(png, { limitInputPixels: MAX_PIXELS, ignoreIcc: true })
    .resize(THUMB_EDGE, THUMB_EDGE, { fit: 'inside', withoutEnlargement: true })
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  const bytes = bytesAsShot(new Uint16Array(data.buffer, data.byteOffset, data.length / 2), headroom);
  const jpeg = await sharp(bytes, { raw: { width: info.width, height: info.height, channels: 3 } })
    .jpeg({ quality: 86 })
    .toBuffer();
  await fs.writeFile(to, Buffer.concat(withJpegProfile(jpeg, await profileOf('display-p3'))));
}

const SRGB: Primaries = { gamut: 'srgb', native: true };

/** Fitted for the shelf while it is decoded, strip by strip; turned upright when it is small, since turning needs the whole of it. */
async function small(image: Sharp, orientation: number): Promise<Sharp> {
  const fitted = image.resize(THUMB_EDGE, THUMB_EDGE, { fit: 'inside', withoutEnlargement: true });
  if (orientation === 1) return fitted;
  return sharp(await fitted.keepMetadata().png({ compressionLevel: 1 }).toBuffer()).autoOrient();
}
