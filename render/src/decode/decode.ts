import fs from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import { BexlenError, decode as decodeTone, encode as encodeTone, fitted, type Gamut, type Layout, type Rect } from '@bexlen/core';
import { MAX_PIXELS } from './limits';
import { inP3, primariesOf } from './primaries';
import { turboJpeg, type TurboJpeg } from './turbo';

export interface Decoded {
  readonly layout: Layout;
  /** Rows without padding; 16-bit samples little-endian. */
  readonly pixels: Uint8Array;
}

export interface Source {
  readonly file: string;
  /** The file that came, where `file` was developed from it. */
  readonly original?: string;
  readonly depth: 8 | 16;
  readonly alpha: boolean;
  /** The primaries that it is worked on in; those of sRGB, unless said. */
  readonly gamut?: Gamut;
  /** Of a raw file: light that its largest value stands for, as a multiple of white. */
  readonly headroom?: number;
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
  const { width, height, plain } = await headOf(source);
  const layout = layoutOf(source, width, height);
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

/** A whole original: upright, in the primaries that it is worked on in, at its own depth. */
export async function decode(source: Source): Promise<Decoded> {
  if (await wideHead(source)) return turnedUpright(await readerOf(source)((image) => image), (await headOf(source)).orientation);
  return source.depth === 16 ? deep(source) : raw(shallow(source), source);
}

/** An original that fits a long edge, averaged in linear light. */
export async function decodeFitted(source: Source, edge: number): Promise<Decoded> {
  return decodePart(source, undefined, edge);
}

/**
 * A rectangle of an original, or all of it, that fits a long edge, averaged in linear light where it is made smaller. It is cut and reduced as it lies in the file,
 * while that is decoded, and turned upright last: no more than what is wanted is ever held, where the format allows it.
 */
export async function decodePart(source: Source, part: Rect | undefined, edge: number): Promise<Decoded> {
  const { width, height, orientation, foreign } = await headOf(source);
  const upright = part ?? { x: 0, y: 0, w: width, h: height };
  const size = fitted({ width: upright.w, height: upright.h }, edge);
  if (!part && size.width === width && size.height === height) return decode(source);
  const lies = lying(orientation);
  const [across, down] = lies ? [height, width] : [width, height];
  const rect = asStored(upright, orientation, across, down);
  const wanted = lies ? { width: size.height, height: size.width } : size;
  const reduced = wanted.width !== rect.w || wanted.height !== rect.h;
  const whole = rect.w === across && rect.h === down;
  const cut = (image: Sharp): Sharp => (whole ? image : image.extract({ left: rect.x, top: rect.y, width: rect.w, height: rect.h }));
  if (!reduced) return turnedUpright(await readerOf(source)(cut), orientation);
  // The library reduces in linear light only what it need not convert by a profile first: that would come out black.
  const made =
    source.depth === 16 || foreign
      ? await convertedFirst(source, rect, wanted, cut)
      : await raw(small(cut(shallow(source, false, { ignoreIcc: true }).pipelineColourspace('scrgb')), wanted.width, wanted.height), source);
  return turnedUpright(made, orientation);
}

/** Reads a file in its primaries at its own depth, after what is done to it first: a part is cut out. */
type Reading = (first: (image: Sharp) => Sharp) => Promise<Decoded>;

const readerOf =
  (source: Source): Reading =>
  async (first) => {
    const wide = await wideHead(source);
    if (wide) {
      const { depth, icc } = wide;
      const image = first(sharp(source.file, { limitInputPixels: MAX_PIXELS, ignoreIcc: true }));
      const own = (source.alpha ? image.ensureAlpha() : image.removeAlpha()).toColourspace(depth === 16 ? 'rgb16' : 'srgb');
      return inP3(await raw(own, { ...source, depth }), icc);
    }
    return source.depth === 16 ? raw((await deepImage(source, first)).toColourspace('rgb16'), source) : raw(first(shallow(source, false)), source);
  };

/** Bytes of decoded pixels that are held at a time. */
const STRIP_BYTES = 160e6;

/** A rectangle that is read in its primaries, then reduced. */
async function convertedFirst(
  source: Source,
  rect: Rect,
  { width, height }: { width: number; height: number },
  cut: (image: Sharp) => Sharp,
): Promise<Decoded> {
  const rowBytes = rect.w * (source.alpha ? 4 : 3) * (source.depth / 8);
  const factor = Math.floor(rect.w / width / 2);
  const large = factor > 1 && rowBytes * rect.h > STRIP_BYTES;
  const rows = Math.max(factor, Math.floor(STRIP_BYTES / rowBytes / factor) * factor);
  const { layout, pixels } = large ? await inStrips(source, rect, factor, rows) : await readerOf(source)(cut);
  const image = sharp(layout.depth === 16 ? wordsOf(pixels) : pixels, { raw: layout, limitInputPixels: MAX_PIXELS });
  const made = small(image.pipelineColourspace('scrgb'), width, height);
  return raw(made.toColourspace(source.depth === 16 ? 'rgb16' : 'srgb'), source);
}

/** A rectangle of an original, averaged in linear light over squares of `factor` pixels, in strips of some rows, a multiple of that. Of 16 bits. */
export async function inStrips(source: Source, rect: Rect, factor: number, rows: number): Promise<Decoded> {
  const read = readerOf(source);
  const channels = source.alpha ? 4 : 3;
  const [width, height] = [Math.floor(rect.w / factor), Math.floor(rect.h / factor)];
  const most = source.depth === 16 ? 65535 : 255;
  const light = Float32Array.from({ length: most + 1 }, (_, i) => decodeTone(i / most));
  const out = new Uint16Array(width * height * channels);
  const sums = new Float64Array(width * channels);
  for (let top = 0; top < height * factor; top += rows) {
    const part = { left: rect.x, top: rect.y + top, width: rect.w, height: Math.min(rows, height * factor - top) };
    const { pixels } = await read((image) => image.extract(part));
    const values = source.depth === 16 ? wordsOf(pixels) : pixels;
    for (let y = 0; y < part.height; y++) {
      if (y % factor === 0) sums.fill(0);
      for (let i = 0, s = y * rect.w * channels; i < width * factor; i++, s += channels) {
        const d = Math.floor(i / factor) * channels;
        const a = channels === 4 ? (values[s + 3] as number) / most : 1;
        for (let c = 0; c < 3; c++) sums[d + c] = (sums[d + c] as number) + a * (light[values[s + c] as number] as number);
        if (channels === 4) sums[d + 3] = (sums[d + 3] as number) + a;
      }
      if (y % factor !== factor - 1) continue;
      const row = ((top + y - factor + 1) / factor) * width * channels;
      for (let i = 0; i < width * channels; i += channels) {
        const a = channels === 4 ? (sums[i + 3] as number) : factor * factor;
        for (let c = 0; c < 3; c++) out[row + i + c] = Math.round(65535 * encodeTone(a > 0 ? (sums[i + c] as number) / a : 0));
        if (channels === 4) out[row + i + 3] = Math.round((65535 * a) / (factor * factor));
      }
    }
  }
  return { layout: layoutOf({ ...source, depth: 16 }, width, height), pixels: new Uint8Array(out.buffer) };
}

const wordsOf = (pixels: Uint8Array): Uint16Array => new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 2);

/** Whether an orientation (Exif 2.32, tag 0x0112) exchanges width and height. */
const lying = (orientation: number): boolean => orientation >= 5;

/** Where a rectangle of the upright picture lies in a file of across x down pixels. */
export function asStored({ x, y, w, h }: Rect, orientation: number, across: number, down: number): Rect {
  const [flipX, flipY] = [[2, 3, 7, 8].includes(orientation), [3, 4, 6, 7].includes(orientation)];
  const [u, v, width, height] = lying(orientation) ? [y, x, h, w] : [x, y, w, h];
  return { x: flipX ? across - u - width : u, y: flipY ? down - v - height : v, w: width, h: height };
}

async function turnedUpright(decoded: Decoded, orientation: number): Promise<Decoded> {
  if (orientation === 1) return decoded;
  const { layout, pixels } = decoded;
  const words = layout.depth === 16;
  const image = sharp(words ? wordsOf(pixels) : pixels, { raw: layout, limitInputPixels: MAX_PIXELS });
  const turns = [0, 0, 0, 180, 0, 90, 90, 90, 270][orientation] ?? 0;
  const turned = (words ? image.toColourspace('rgb16') : image).rotate(turns).flip([4, 5].includes(orientation)).flop([2, 7].includes(orientation));
  return raw(turned, { ...layout, alpha: layout.channels === 4 });
}

/** Size of an original as it stands upright. */
export async function uprightSize(file: string): Promise<{ width: number; height: number }> {
  const { width, height } = await headOf({ file });
  return { width, height };
}

interface Head {
  /** As it stands upright. */
  readonly width: number;
  readonly height: number;
  readonly orientation: number;
  /** Bits of its samples. */
  readonly depth: 8 | 16;
  readonly icc: Buffer | undefined;
  /** It has to be converted: by a profile of its own that is not the one that it is worked on in, or since it is made for ink. */
  readonly foreign: boolean;
  /** A JPEG which needs nothing but decoding: it stands upright, in the primaries that it is worked on in. */
  readonly plain: boolean;
}

/** What the head of a file tells. */
async function headOf({ file, gamut = 'srgb' }: Pick<Source, 'file' | 'gamut'>): Promise<Head> {
  const { width, height, format, orientation = 1, icc, space, depth } = await sharp(file, { limitInputPixels: MAX_PIXELS }).metadata();
  // Without a profile a photo is of Display P3 only where its file says so by numbers.
  const native = icc === undefined || nativeIn(gamut, icc);
  const bits: 8 | 16 = depth === 'uchar' ? 8 : 16;
  const more = { orientation, icc, depth: bits, foreign: !native || space === 'cmyk', plain: format === 'jpeg' && orientation === 1 && native };
  return lying(orientation) ? { width: height, height: width, ...more } : { width, height, ...more };
}

/** The head of a photo that has a profile of its own which is wider than sRGB, and not Display P3. */
async function wideHead(source: Source): Promise<(Head & { readonly icc: Buffer }) | undefined> {
  if (source.gamut !== 'display-p3') return undefined;
  const { icc, ...head } = await headOf(source);
  return head.foreign && icc ? { ...head, icc } : undefined;
}

/** Whether values with a profile are those of some primaries as they stand: by what it does, whoever wrote it. */
const nativeIn = (gamut: Gamut, icc: Buffer): boolean => {
  const found = primariesOf(icc);
  return found.gamut === gamut && found.native;
};

const layoutOf = (
  { depth, alpha, gamut, headroom }: Pick<Source, 'depth' | 'alpha' | 'gamut' | 'headroom'>,
  width: number,
  height: number,
): Layout => ({
  width,
  height,
  depth,
  channels: alpha ? 4 : 3,
  ...(gamut === 'display-p3' && { gamut }),
  ...(headroom !== undefined && { headroom }),
});

const small = (image: Sharp, width: number, height: number): Sharp => image.resize(width, height, { fit: 'fill', fastShrinkOnLoad: false });

/** Of 8 bits: in sRGB, or with its own values where they are worked on as they stand. */
const shallow = ({ file, alpha, gamut }: Source, turned = true, options: { readonly ignoreIcc?: boolean } = {}): Sharp => {
  const stored = sharp(file, { limitInputPixels: MAX_PIXELS, ignoreIcc: gamut === 'display-p3', ...options });
  const image = turned ? stored.autoOrient() : stored;
  return (alpha ? image.ensureAlpha() : image.removeAlpha()).toColourspace('srgb');
};

/**
 * 16-bit files: those with a profile of another gamut are converted by it; the others, and our own, are taken as they stand, which must be said, since the library would
 * otherwise convert them through a wider space.
 */
async function deep(source: Source): Promise<Decoded> {
  return raw((await deepImage(source, (image) => image.autoOrient())).toColourspace('rgb16'), source);
}

async function deepImage(source: Source, first: (image: Sharp) => Sharp): Promise<Sharp> {
  const { foreign } = await headOf(source);
  const image = first(sharp(source.file, { limitInputPixels: MAX_PIXELS, ignoreIcc: !foreign }));
  const tagged = foreign ? image.withIccProfile('srgb') : image;
  return source.alpha ? tagged.ensureAlpha() : tagged.removeAlpha();
}

async function raw(image: Sharp, source: Pick<Source, 'depth' | 'alpha' | 'gamut' | 'headroom'>): Promise<Decoded> {
  const { data, info } = await image
    .raw({ depth: source.depth === 16 ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true })
    .catch((error: unknown) => {
      // Memory that is short is no fault of the photo.
      throw /memory/i.test(String(error)) ? error : damaged(error);
    });
  const layout = layoutOf(source, info.width, info.height);
  if (info.channels !== layout.channels) throw new Error(`expected ${layout.channels} channels, got ${info.channels}`);
  return { layout, pixels: data };
}

const damaged = (cause: unknown): BexlenError =>
  Object.assign(
    new BexlenError(
      'damaged-picture',
      'The photo is damaged or cut off.',
      'Copy it again from where it came from, and import that; its versions stay.',
    ),
    { cause },
  );
