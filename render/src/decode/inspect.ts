import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { BexlenError, type Gamut } from '@bexlen/core';
import { THUMB_EDGE } from '@bexlen/api';
import { develop, isHeic } from './heic';
import { dateIn } from './metadata';
import { primariesOf, type Primaries } from './primaries';
import { profileOf, withJpegProfile } from './profile';

export const MAX_PIXELS = 200e6;
/** Pixels along a side at most, as JPEG has them, and bytes of the decoded pixels. */
const MAX_SIDE = 65_500;
const MAX_BYTES = 800e6;
const FORMATS: Record<string, string> = { jpeg: 'JPEG', png: 'PNG', tiff: 'TIFF', webp: 'WebP', heif: 'AVIF' };
export const READS = 'JPEG, PNG, TIFF, WebP, AVIF and HEIC';
/** The name of the format that is developed before it is read. */
export const HEIC = 'HEIC';

export interface Inspected {
  readonly format: string;
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
  readonly alpha: boolean;
  /** The primaries that it is worked on in. */
  readonly gamut: Gamut;
  /** When the photo was taken, as its camera says; in no time zone. */
  readonly takenAt?: string;
}

/**
 * Looks at a file and reads it once from end to end, which gives a JPEG for the shelf, written to `thumb` if one is wanted, and the PNG that a HEIC photo is developed into. Throws a
 * fault that says what is wrong with it.
 */
export async function inspect(file: string, name: string, thumb?: string, developed?: string): Promise<Inspected> {
  const meta = await sharp(file, { limitInputPixels: false })
    .metadata()
    .catch(() => {
      throw new BexlenError('no-picture', `${name} is not a picture that can be read.`, `Bexlen reads ${READS}.`);
    });
  if (isHeic(meta)) return inspectHeic(file, name, meta.exif && dateIn(meta.exif), thumb, developed);
  const format = FORMATS[meta.format];
  if (!format || (meta.format === 'heif' && meta.compression !== 'av1'))
    throw new BexlenError('unsupported-format', `${name} is a ${meta.format.toUpperCase()} file.`, `Bexlen reads ${READS}.`);
  const { gamut, native } = meta.icc && meta.space !== 'cmyk' ? primariesOf(meta.icc) : SRGB;
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

async function inspectHeic(file: string, name: string, takenAt: string | undefined, thumb?: string, developed?: string): Promise<Inspected> {
  const folder = developed === undefined ? await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-heic-')) : undefined;
  const png = developed ?? path.join(folder ?? '', 'developed.png');
  try {
    await develop(file, name, png);
    return { ...(await inspect(png, name, thumb)), format: HEIC, ...(takenAt && { takenAt }) };
  } finally {
    if (folder) await fs.rm(folder, { recursive: true, force: true });
  }
}

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

const SRGB: Primaries = { gamut: 'srgb', native: true };

/** Fitted for the shelf while it is decoded, strip by strip; turned upright when it is small, since turning needs the whole of it. */
async function small(image: Sharp, orientation: number): Promise<Sharp> {
  const fitted = image.resize(THUMB_EDGE, THUMB_EDGE, { fit: 'inside', withoutEnlargement: true });
  if (orientation === 1) return fitted;
  return sharp(await fitted.keepMetadata().png({ compressionLevel: 1 }).toBuffer()).autoOrient();
}
