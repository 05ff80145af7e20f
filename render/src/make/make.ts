import {
  BexlenError,
  fitted,
  isPicture,
  longEdge,
  namedIn,
  namersOf,
  needsProxy,
  pictureSize,
  picturesNeeded,
  shapeOf,
  type Cube,
  type Gamut,
  type Layout,
  type NamedStroke,
  type Pixels,
  type Shape,
  type PhotoProxy,
  type Stack,
} from '@bexlen/core';
import type { StoreFormat } from '@bexlen/core/engine';
import { coming, decodeFitted, here, uprightSize, type Coming, type Decoded, type Source } from '../decode/decode';
import { checkSides, depthOf, encode, jpegWish, writeJpeg, type Wish } from '../encode/encode';
import type { Metadata } from '../decode/metadata';
import type { Sharpening } from '@bexlen/api';
import { sharpened } from './sharpening';
import { JpegStrips, stripsFit } from '../encode/strips';
import type { Finished, Pool } from '../pool/pool';
import type { Workshop } from '../pool/workshop';

/** What a file is to be like; with the primaries of its photo, unless others are said. */
export type FinishedWish = Omit<Wish, 'gamut'> & { readonly gamut?: Gamut | 'photo' };

export interface Work {
  readonly source: Source;
  readonly stack: Stack;
  readonly wish: FinishedWish;
  /** Sharpened for its size, last of all. */
  readonly sharpen?: Sharpening;
  /** What of the original's metadata is carried over into a file of some size; nothing, unless said. */
  readonly metadata?: (size: { readonly width: number; readonly height: number }) => Promise<Metadata>;
  /** Long edge in pixels, where the picture is not wanted at full size. */
  readonly size?: number;
  /** Where the photo's pixels come from, to fit a long edge; from the original, unless given. */
  readonly fittedTo?: (edge: number) => Promise<Decoded>;
  readonly supplies: Supplies;
  /** File that is written. */
  readonly to: string;
}

/** Where things come from that a stack names. */
export interface Supplies {
  readonly cube: (name: string) => Promise<Cube>;
  /** Strokes of a painting that a layer names. Throws where some are lost, unless the picture may be made without. */
  readonly painting: (name: string, layer: string) => Promise<readonly NamedStroke[]>;
  readonly proxy: () => Promise<PhotoProxy>;
  /** Pixels of another photo that a layer lays over this one, to fit a long edge. Throws where it is lost; gives nothing where the picture may be made without. */
  readonly picture: (name: string, edge: number, layer: string) => Promise<Pixels | undefined>;
}

export interface Watch {
  /** Stops the work between tiles. */
  readonly signal?: AbortSignal;
  /** Told a share of the whole, 0..1, now and then. */
  readonly progress?: (share: number) => void;
}

/** Decoding, rendering and encoding as shares of the whole. */
const DECODED = 0.15;
const RENDERED = 0.8;
const TICK_MS = 100;
/** How long a pool that was told to stop may take to come to the end of a tile. */
const STOP_MS = 2000;
/** Rows that are encoded as one while others are still being made. */
const STRIP = 256;

/**
 * A finished file of an original, with the profile of its primaries: those that are wished for, or those of the photo. Alpha is kept where the format holds it. Returns the bytes written.
 * Throws `cancelled` when it was stopped; what was written by then is the caller's to remove.
 */
export async function make(workshop: Workshop, work: Work, watch: Watch = {}): Promise<number> {
  const { to } = work;
  return atWork(workshop, work, watch, async ({ pool, layout, filmEdge }) => {
    const gamut = gamutOf(work.wish, work.source);
    const wish: Wish = { ...work.wish, gamut };
    checkSides(wish, layout);
    const stack = sharpened(work.stack, work.sharpen, filmEdge);
    const channels = layout.channels === 4 ? 4 : 3;
    const depth = depthOf(wish);
    const metadata = (await work.metadata?.(layout)) ?? {};
    const strips = wish.format === 'jpeg' && channels === 3 && workshop.workers > 1 ? stripsOf(wish, layout) : undefined;
    const bands = strips && { rows: strips.rows, done: (band: number, picture: Uint8Array) => strips.add(band, picture) };
    const finished = await pool.render(stack, `${channels === 4 ? 'rgba' : 'rgb'}${depth}`, { gamut, ...(bands && { bands }) });
    check(watch.signal);
    const made = { width: finished.width, height: finished.height, depth, channels } as const;
    return strips ? writeJpeg(to, await strips.join(), gamut, metadata) : encode(finished.pixels, made, wish, to, metadata);
  });
}

/** The primaries that a file of a photo has. */
export const gamutOf = ({ gamut = 'photo' }: Pick<FinishedWish, 'gamut'>, source: Source): Gamut =>
  gamut === 'photo' ? (source.gamut ?? 'srgb') : gamut;

/** What pixels are wanted of a photo. */
export type Wanted = Pick<Work, 'source' | 'stack' | 'size' | 'fittedTo' | 'supplies'> & {
  /** The primaries of the finished pixels; those of sRGB, unless said. */
  readonly gamut?: Gamut;
  /** Pixels that are at hand already, and how the picture is shaped out of them. */
  readonly laid?: { readonly pixels: Coming; readonly shape?: Shape };
};

/** The finished pixels of a stack, or, as greys, the mask of one of its layers: a copy, to be kept. */
export function pixelsOf(workshop: Workshop, work: Wanted, format: StoreFormat, mask?: string, watch: Watch = {}): Promise<Finished> {
  return atWork(workshop, work, watch, async ({ pool }) => {
    const { width, height, pixels } = await pool.render(work.stack, format, { gamut: work.gamut ?? 'srgb', ...(mask !== undefined && { mask }) });
    check(watch.signal);
    return { width, height, pixels: pixels.slice() };
  });
}

interface AtWork {
  readonly pool: Pool;
  /** Of the picture. */
  readonly layout: Layout;
  /** Long edge of the uncropped photo, in pixels of what is made. */
  readonly filmEdge: number;
}

/** Hires a pool, lays the photo out in it with all that its stack names, and takes the pool back when the work is done. */
async function atWork<T>(workshop: Workshop, work: Wanted, { signal, progress }: Watch, act: (at: AtWork) => Promise<T>): Promise<T> {
  const { stack, supplies } = work;
  const [hired, photo] = await Promise.allSettled([workshop.hire(), photoFor(work)]);
  if (hired.status === 'rejected') throw hired.reason;
  const pool = hired.value;
  let ending: NodeJS.Timeout | undefined;
  const stop = (): void => {
    pool.stop();
    ending = setTimeout(() => pool.breakOff(), STOP_MS);
  };
  const ticks = setInterval(() => progress?.(DECODED + (RENDERED - DECODED) * pool.progress), TICK_MS);
  signal?.addEventListener('abort', stop);
  try {
    if (photo.status === 'rejected') throw photo.reason;
    const { pixels, shape, filmEdge } = photo.value;
    check(signal);
    await supply(pool, stack, supplies, Math.max(pixels.layout.width, pixels.layout.height));
    await pool.open(pixels);
    check(signal);
    if (shape) pool.shape(shape);
    const done = await act({ pool, layout: shape?.layout ?? pixels.layout, filmEdge });
    pool.provide({ type: 'forget' });
    await workshop.takeBack(pool);
    return done;
  } catch (error) {
    await pool.dismiss();
    throw error;
  } finally {
    clearInterval(ticks);
    clearTimeout(ending);
    signal?.removeEventListener('abort', stop);
  }
}

/** @param edge the photo's long edge, in pixels of what is made. */
async function supply(pool: Pool, stack: Stack, { cube, painting, proxy, picture }: Supplies, edge: number): Promise<void> {
  for (const name of namedIn(stack.layers, 'file')) pool.provide({ type: 'cube', name, cube: await cube(name) });
  for (const [name, layer] of namersOf(stack.layers, 'painting')) {
    pool.provide({ type: 'strokes', strokes: await painting(name, layer.name) });
  }
  for (const [name, { layer, share }] of picturesNeeded(stack)) {
    const pixels = await picture(name, Math.ceil(share * edge), layer);
    if (pixels) pool.provide({ type: 'picture', name, pixels });
  }
  if (needsProxy(stack)) pool.provide({ type: 'proxy', proxy: await proxy() });
}

/** The photo, and how the picture is shaped out of it, where its geometry does anything; `filmEdge` is the long edge of the uncropped photo in pixels of what is made. */
async function photoFor({
  source,
  stack: { geometry },
  laid,
  size: edge,
  fittedTo = (wanted) => decodeFitted(source, wanted),
}: Wanted): Promise<{ pixels: Coming; shape?: Shape; filmEdge: number }> {
  const photo = await uprightSize(source.file);
  if (laid) return { ...laid, filmEdge: longEdge(photo) };
  const full = pictureSize(geometry, photo);
  const size = edge === undefined ? full : fitted(full, edge);
  const scale = longEdge(size) / longEdge(full);
  const pixels = scale === 1 ? await coming(source) : here(await fittedTo(Math.ceil(longEdge(photo) * scale)));
  const patch = { photo, rect: { x: 0, y: 0, w: photo.width, h: photo.height }, layout: pixels.layout };
  const filmEdge = longEdge(photo) * scale;
  if (isPicture(geometry, patch)) return { pixels, filmEdge };
  return { pixels, filmEdge, shape: shapeOf(geometry, patch, size, { x: 0, y: 0, w: size.width, h: size.height }) };
}

/** Strips, where the picture is large enough for them to be worth it and narrow enough to be possible. */
function stripsOf(given: Wish, { width, height }: Layout): JpegStrips | undefined {
  const wish = jpegWish(given);
  return height > STRIP && stripsFit(wish, width, STRIP) ? new JpegStrips(wish, width, height, STRIP) : undefined;
}

function check(signal: AbortSignal | undefined): void {
  if (signal?.aborted) throw new BexlenError('cancelled', 'The export was cancelled.', 'Start it again when you want it.');
}
