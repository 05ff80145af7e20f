import type { Gamut } from './gamut';

/** Sides in pixels, or in whatever unit is said. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** How a picture lies in memory: interleaved rows without padding, straight alpha, encoded as sRGB is. */
export interface Layout {
  readonly width: number;
  readonly height: number;
  /** Bits of a channel. */
  readonly depth: 8 | 16;
  /** Red, green, blue, and alpha as the fourth. */
  readonly channels: 3 | 4;
  /** Its primaries; those of sRGB, unless said. */
  readonly gamut?: Gamut;
  /** Of what a raw file was developed into: light that its largest value stands for, as a multiple of white. It is to be developed further. */
  readonly headroom?: number;
}

export const bytesPerPixel = ({ depth, channels }: Layout): number => (depth / 8) * channels;
export const byteLength = (layout: Layout): number => layout.width * layout.height * bytesPerPixel(layout);
export const longEdge = ({ width, height }: Size): number => Math.max(width, height);

/** A rectangle of pixels: left, top, width, height. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly w: number;
  readonly h: number;
}

/** The rectangle with a rim on all sides, cut to the picture. */
export function grown(rect: Rect, rim: number, { width, height }: Pick<Layout, 'width' | 'height'>): Rect {
  const x = Math.max(0, rect.x - rim);
  const y = Math.max(0, rect.y - rim);
  return { x, y, w: Math.min(width, rect.x + rect.w + rim) - x, h: Math.min(height, rect.y + rect.h + rim) - y };
}

/** Size that fits a long edge, never larger than the picture itself, at least one pixel. */
export function fitted({ width, height }: Pick<Layout, 'width' | 'height'>, edge: number): { width: number; height: number } {
  const scale = Math.min(1, edge / Math.max(width, height));
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** The least rectangle that holds two. */
export function around(a: Rect, b: Rect): Rect {
  const [x, y] = [Math.min(a.x, b.x), Math.min(a.y, b.y)];
  return { x, y, w: Math.max(a.x + a.w, b.x + b.w) - x, h: Math.max(a.y + a.h, b.y + b.h) - y };
}
