import sharp, { type Sharp } from 'sharp';
import { fitted, type Layout } from '@bexlen/core';
import { MAX_PIXELS } from './inspect';
import { srgbProfile } from './profile';

export interface Decoded {
  readonly layout: Layout;
  /** Rows without padding; 16-bit samples little-endian. */
  readonly pixels: Uint8Array;
}

interface Source {
  readonly file: string;
  readonly depth: 8 | 16;
  readonly alpha: boolean;
}

/** A whole original: upright, in sRGB, at its own depth. */
export const decode = (source: Source): Promise<Decoded> => (source.depth === 16 ? deep(source) : raw(shallow(source), source));

/** An original that fits a long edge, averaged in linear light. */
export async function decodeFitted(source: Source, size: { width: number; height: number }, edge: number): Promise<Decoded> {
  const { width, height } = fitted(size, edge);
  if (width === size.width && height === size.height) return decode(source);
  if (source.depth === 8) return raw(small(shallow(source, 'scrgb'), width, height).toColourspace('srgb'), source);
  const { layout, pixels } = await deep(source);
  const words = new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 2);
  const whole = sharp(words, { raw: layout, limitInputPixels: MAX_PIXELS });
  return raw(small(whole.pipelineColourspace('scrgb'), width, height).toColourspace('rgb16'), source);
}

const small = (image: Sharp, width: number, height: number): Sharp => image.resize(width, height, { fit: 'fill', fastShrinkOnLoad: false });

const shallow = ({ file, alpha }: Source, space?: string): Sharp => {
  const image = sharp(file, { limitInputPixels: MAX_PIXELS }).autoOrient();
  const upright = space ? image.pipelineColourspace(space) : image;
  return (alpha ? upright.ensureAlpha() : upright.removeAlpha()).toColourspace('srgb');
};

/**
 * 16-bit files: those with a profile are converted by it; the others, and our own, are taken as sRGB, which must be said, since the library would
 * otherwise convert them through a wider space.
 */
async function deep(source: Source): Promise<Decoded> {
  const { icc } = await sharp(source.file).metadata();
  const foreign = icc && !icc.equals(await srgbProfile());
  const image = sharp(source.file, { limitInputPixels: MAX_PIXELS, ignoreIcc: !foreign }).autoOrient();
  const tagged = foreign ? image.withIccProfile('srgb') : image;
  return raw((source.alpha ? tagged.ensureAlpha() : tagged.removeAlpha()).toColourspace('rgb16'), source);
}

async function raw(image: Sharp, { depth, alpha }: Source): Promise<Decoded> {
  const { data, info } = await image.raw({ depth: depth === 16 ? 'ushort' : 'uchar' }).toBuffer({ resolveWithObject: true });
  const layout: Layout = { width: info.width, height: info.height, depth, channels: alpha ? 4 : 3 };
  if (info.channels !== layout.channels) throw new Error(`expected ${layout.channels} channels, got ${info.channels}`);
  return { layout, pixels: data };
}
