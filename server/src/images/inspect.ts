import sharp from 'sharp';
import { BexlenError } from '@bexlen/core';
import { THUMB_EDGE } from '../api';

export const MAX_PIXELS = 200e6;
const FORMATS: Record<string, string> = { jpeg: 'JPEG', png: 'PNG', tiff: 'TIFF', webp: 'WebP', heif: 'AVIF' };
export const READS = 'JPEG, PNG, TIFF, WebP and AVIF';

export interface Inspected {
  readonly format: string;
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
  readonly alpha: boolean;
  /** A JPEG for the shelf. */
  readonly thumb: Buffer;
}

/** Looks at a file and reads it once from end to end. Throws a fault that says what is wrong with it. */
export async function inspect(file: string, name: string): Promise<Inspected> {
  const meta = await sharp(file, { limitInputPixels: false })
    .metadata()
    .catch(() => {
      throw new BexlenError('no-picture', `${name} is not a picture that can be read.`, `Bexlen reads ${READS}.`);
    });
  const format = FORMATS[meta.format];
  if (!format || (meta.format === 'heif' && meta.compression !== 'av1'))
    throw new BexlenError('unsupported-format', `${name} is a ${meta.format.toUpperCase()} file.`, `Bexlen reads ${READS}.`);
  if (meta.width * meta.height > MAX_PIXELS)
    throw new BexlenError(
      'too-many-pixels',
      `${name} claims ${meta.width} x ${meta.height} pixels; the limit is ${MAX_PIXELS / 1e6} megapixels.`,
      'Make it smaller and import it again.',
    );
  const thumb = await sharp(file, { limitInputPixels: MAX_PIXELS, failOn: 'warning' })
    .autoOrient()
    .resize(THUMB_EDGE, THUMB_EDGE, { fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#808080' })
    .toColourspace('srgb')
    .jpeg({ quality: 86 })
    .toBuffer()
    .catch(() => {
      throw new BexlenError('damaged-picture', `${name} is damaged or cut off.`, 'Copy it again from where it came from, then import that.');
    });
  const turned = (meta.orientation ?? 1) >= 5;
  const [width, height] = turned ? [meta.height, meta.width] : [meta.width, meta.height];
  const depth = meta.depth === 'uchar' ? 8 : 16;
  return { format, width, height, depth, alpha: meta.hasAlpha, thumb };
}
