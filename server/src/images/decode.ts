import fs from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import { fitted, type Layout, type Rect } from '@bexlen/core';
import { MAX_PIXELS } from './inspect';
import { profileOf } from './profile';
import { turboJpeg, type TurboJpeg } from './turbo';

export interface Decoded {
  readonly layout: Layout;
  /** Rows without padding; 16-bit samples little-endian. */
  readonly pixels: Uint8Array;
}

export interface Source {
  readonly file: string;
  readonly depth: 8 | 16;
  readonly alpha: boolean;
}

/** A picture whose size is known and whose pixels are on their way. */
export interface Coming {
  readonly layout: Layout;
  /** Writes its pixels into memory of its size, once. */
  readonly into: (room: Uint8Array) => Promise<void>;
}

export const here = ({ layout, pixels }: Decoded): Coming => ({ layout, into: (room) => Promise.resolve(room.set(pixels)) });

/** A whole original, as `decode` gives it, for memory that is at hand. */
export async function coming(source: Source, turbo: TurboJpeg | null = turboJpeg): Promise<Coming> {
  const { width, height, plain } = await headOf(source.file);
  const layout: Layout = { width, height, depth: source.depth, channels: source.alpha ? 4 : 3 };
  if (turbo && plain) {
    const jpeg = await fs.readFile(source.file);
    return {
      layout,
      async into(room) {
        if (!(await turbo.decode(jpeg, width, height, room))) room.set((await decode(source)).pixels);
      },
    };
  }
  const decoded = decode(source);
  // It may be asked for late, or never.
  decoded.catch(() => undefined);
  return {
    layout,
    async into(room) {
      room.set((await decoded).pixels);
    },
  };
}

/** A whole original: upright, in sRGB, at its own depth. */
export const decode = (source: Source): Promise<Decoded> => (source.depth === 16 ? deep(source) : raw(shallow(source), source));

/** An original that fits a long edge, averaged in linear light. */
export async function decodeFitted(source: Source, edge: number): Promise<Decoded> {
  return decodePart(source, undefined, edge);
}

/** A rectangle of an original, or all of it, that fits a long edge, averaged in linear light where it is made smaller. */
export async function decodePart(source: Source, part: Rect | undefined, edge: number): Promise<Decoded> {
  const whole = await uprightSize(source.file);
  const size = part ? { width: part.w, height: part.h } : whole;
  const { width, height } = fitted(size, edge);
  const reduced = width !== size.width || height !== size.height;
  if (!part && !reduced) return decode(source);
  const cut = (image: Sharp): Sharp => (part ? image.extract({ left: part.x, top: part.y, width: part.w, height: part.h }) : image);
  if (source.depth === 8) {
    if (!reduced) return raw(cut(shallow(source)), source);
    return raw(small(cut(shallow(source, 'scrgb')), width, height).toColourspace('srgb'), source);
  }
  const { layout, pixels } = await deep(source);
  const words = new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 2);
  const image = sharp(words, { raw: layout, limitInputPixels: MAX_PIXELS });
  if (!reduced) return raw(cut(image.toColourspace('rgb16')), source);
  return raw(small(cut(image.pipelineColourspace('scrgb')), width, height).toColourspace('rgb16'), source);
}

/** Size of an original as it stands upright. */
export async function uprightSize(file: string): Promise<{ width: number; height: number }> {
  const { width, height } = await headOf(file);
  return { width, height };
}

/** What the head of a file tells: its size as it stands upright, and whether it is a plain JPEG, which needs nothing but decoding: it stands so, in sRGB. */
async function headOf(file: string): Promise<{ width: number; height: number; plain: boolean }> {
  const { width, height, format, orientation = 1, icc } = await sharp(file, { limitInputPixels: MAX_PIXELS }).metadata();
  const plain = format === 'jpeg' && orientation === 1 && (!icc || icc.equals(await profileOf('srgb')));
  return orientation >= 5 ? { width: height, height: width, plain } : { width, height, plain };
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
  const foreign = icc && !icc.equals(await profileOf('srgb'));
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
