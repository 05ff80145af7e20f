import type { Matrix } from '../../geometry/matrix';
import type { Layout, Rect } from '../../pixels/picture';
import type { OpId } from '../../expressions/ops';
import type { Step, Value, Watched } from '../../stack/program';
import type { PixelFormat } from './pixel-format';
import { tileCount, type TileSize } from './tiles';

/** A blurred image that is grown back row by row. Addresses are bytes in the engine's memory. */
export interface Low {
  readonly at: number;
  readonly width: number;
  readonly height: number;
  /** 4 or a greater power of two. */
  readonly factor: number;
  readonly origin: number;
  /** Where the pixels between two small ones lie on the way from one to the other: `factor` floats. */
  readonly phases: number;
  readonly pixelFormat: PixelFormat;
}

/** A filter of few pixels, made tile by tile at full or half size. */
export interface LocalBlur {
  readonly to: Value;
  readonly from: Value;
  /** Of the blurred image. */
  readonly pixelFormat: PixelFormat;
  readonly factor: 1 | 2;
  readonly radius: number;
  readonly taps: number;
  /** The filter that it is made by, if it is no Gaussian; `taps` is its table then. */
  readonly filter?: string;
  readonly origin: number;
  readonly weights: number;
  /** Steps between earlier blurs and its input. */
  readonly steps: readonly Step[];
}

/** A value that depends on each byte of the photo alone, with the steps that make it. */
export interface Bake {
  readonly to: Value;
  readonly steps: readonly Step[];
}

/** The work that leads to one value: lookups of the photo's bytes in baked tables, blurs made tile by tile, then steps. */
export interface Route {
  readonly bakes: readonly Bake[];
  readonly locals: readonly LocalBlur[];
  readonly steps: readonly Step[];
  readonly out: Value;
}

export interface Level {
  readonly at: number;
  readonly width: number;
  readonly height: number;
}

/** Makes a blurred image for all later passes: reduce by four in tiles, halve on, filter, keep. */
export interface ReducePass {
  readonly do: 'reduce';
  readonly to: Value;
  readonly route: Route;
  /** Of all its images. */
  readonly pixelFormat: PixelFormat;
  /** A quarter of the size, by which filter it is halved the second time, and whether it is at hand from before. */
  readonly quarter: Level;
  readonly halving: 'soft' | 'firm';
  readonly made: boolean;
  /** Tiles of the quarter-size image. */
  readonly tile: TileSize;
  /** From an eighth of the size down. */
  readonly levels: readonly Level[];
  /** The blurred image; may lie where the last level is. */
  readonly small: Level;
  readonly radius: number;
  readonly taps: number;
  /** The filter that it is made by, if it is no Gaussian; `taps` is its table then. */
  readonly filter?: string;
  /** As large as the last level. */
  readonly spare: number;
  /** It is made of another blurred image, as large as it will be: nothing of it is made at full size. */
  readonly refit?: Refit;
}

/** How an image is made out of another one of the same, reduced size, before it is blurred. */
export interface Refit {
  /** Where the other one lies. */
  readonly at: number;
  /** Where the weights lie by which its pixels become what they are when it is grown back. */
  readonly spline: number;
  /** The loop on its pixels. */
  readonly op: OpId;
  readonly numbers: readonly number[];
  /** The pixels of it that lie within the picture, the first and the last of which are moved to its border. */
  readonly inner: Rect & { readonly across: Borders; readonly down: Borders };
}

/** A border that lies between a pixel (or row) of a small image and the next one inside, in shares of the way. */
interface Border {
  readonly from: number;
  readonly to: number;
  readonly share: number;
}
export interface Borders {
  readonly first: Border;
  readonly last: Border;
}

/** Bytes for a screen or a file, or the working format itself: RGBA float32, premultiplied. */
export type StoreFormat = 'screen' | 'rgb8' | 'rgba8' | 'rgb16' | 'rgba16' | 'float';

/** Writes the finished picture. */
export interface StorePass {
  readonly do: 'store';
  readonly route: Route;
  readonly at: number;
  readonly format: StoreFormat;
  readonly tile: TileSize;
  /** The part that is written, in pixels of the source; all of it, unless given. */
  readonly area?: Rect;
  /** Height of a band in rows, a multiple of the tile's height; the end of each band is reported. */
  readonly band?: number;
  /** Histograms of 256 bins, one set for each part, of two values that the route also makes. */
  readonly histogram?: Watched & { readonly at: readonly number[] };
}

/** Makes a picture of a photo's pixels before the first layer: turned, straightened, cropped. */
export interface WarpPass {
  readonly do: 'warp';
  readonly at: number;
  readonly layout: Layout;
  /** From pixels of the picture to those of the photo. */
  readonly map: Matrix;
  /** Table of what bytes are in linear light. */
  readonly table: number;
  readonly tile: TileSize;
}

export type Pass = ReducePass | StorePass | WarpPass;

/** All that a pool needs to make a picture; plain data, so that it can be posted to other threads. */
export interface Plan {
  /** Where the finished picture lies. */
  readonly to: number;
  readonly source: { readonly at: number; readonly layout: Layout };
  readonly tables: Readonly<Record<string, number>>;
  /** Table of dithering noise. */
  readonly noise: number;
  readonly lows: Readonly<Record<Value, Low>>;
  /** Values whose pixels are four numbers, not colours, or made by filters of pixels: never RGB rows. */
  readonly numbers: readonly Value[];
  /** Other photos, resampled to be as large as what is made. */
  readonly pictures: Readonly<Record<Value, { readonly at: number; readonly layout: Layout }>>;
  /** Whole images that are at hand in the working format, by where they lie. */
  readonly held: Readonly<Record<Value, number>>;
  readonly passes: readonly Pass[];
  /** Scratch of each part. */
  readonly scratch: readonly number[];
}

/**
 * Pixels that a scanline renderer handles at a time: few enough that all slots stay in the second cache, and so many that the way from one loop to the next does not
 * count. Memory likes long rows, too.
 */
export const CHUNK = 1536;
/**
 * Output tiles with blurs made per tile; with small images grown back; and with neither, as memory likes them. Where a photo has enough of them for a pool,
 * tiles are large: less is made twice at their rims.
 */
export const LOCAL_TILE = { width: 768, height: 256 };
export const LARGE_LOCAL_TILE = { width: 1536, height: 512 };
export const GROWN_TILE = { width: 1536, height: 32 };
export const LARGE_GROWN_TILE = { width: 1536, height: 256 };
export const PLAIN_TILE = { width: 1536, height: 64 };
/**
 * Tiles of a reduction at most, in pixels of the quarter-size image: with their rim 512 source pixels wide. Where nothing but the photo is read they may be wider,
 * and wide, as memory likes them, where there are enough for a pool.
 */
export const QUARTER_TILE = { width: 125, height: 96 };
export const PLAIN_QUARTER_TILE = { width: 250, height: 64 };
export const WIDE_QUARTER_TILE = { width: 1021, height: 96 };
/** Returns how many source pixels such a tile reads beyond four times its own size. */
export const QUARTER_RIM = 12;

export const bytesOf = (format: StoreFormat): number => ({ screen: 4, rgb8: 3, rgba8: 4, rgb16: 6, rgba16: 8, float: 16 })[format];

/** What a pass that stores writes. */
export const areaOf = ({ area }: StorePass, { width, height }: Layout): Rect => area ?? { x: 0, y: 0, w: width, h: height };

/** Size of a pass's tiles, in pixels of the source. */
export function tileOf(pass: Pass): TileSize {
  if (pass.do !== 'reduce') return pass.tile;
  return { width: 4 * pass.tile.width + QUARTER_RIM, height: 4 * pass.tile.height + QUARTER_RIM };
}

/** Tiles of a plan's last pass. */
export function tilesOf({ source, passes }: Plan): number {
  const last = passes.at(-1);
  if (last?.do !== 'store') return 0;
  return tileCount(areaOf(last, source.layout), last.tile);
}
