import { copies } from '../../geometry/shape';
import { mapped, type Matrix } from '../../geometry/matrix';
import { decode } from '../../pixels/colour';
import { PIXEL, type Kernels } from '../../pixels/kernels';
import { bytesPerPixel, type Layout, type Rect } from '../../pixels/picture';
import type { Pool } from './pool';
import { loading } from './loading';
import type { Plan, WarpPass } from '../plan/plan';
import type { TileSize } from '../plan/tiles';
import { tileAt, tileCount, tiles } from '../plan/tiles';

/** Tiles of a warp: what they are made from stays in the second cache. */
export const WARP_TILE: TileSize = { width: 192, height: 64 };

/** Cubic convolution reads one pixel before a place and two after it. */
const RIM = 2;

/** Returns the rectangle of source pixels that a tile of the picture is made from. */
function sourceOf(map: Matrix, { x, y, w, h }: Rect, { width, height }: Layout): Rect {
  const ahead = [0, w].flatMap((i) => [0, h].map((j) => map[6] * (x + i) + map[7] * (y + j) + map[8]));
  // Where the map's horizon goes through the tile, its corners tell nothing.
  if (ahead.some((z) => z * (ahead[0] as number) <= 1e-12)) return { x: 0, y: 0, w: width, h: height };
  const corners = [0, w].flatMap((i) => [0, h].map((j) => mapped(map, x + i, y + j)));
  const [xs, ys] = [corners.map(([u]) => u), corners.map(([, v]) => v)];
  const span = (values: readonly number[], n: number): [number, number] => {
    const from = Math.min(n - 1, Math.max(0, Math.floor(Math.min(...values)) - RIM));
    return [from, Math.max(from + 1, Math.min(n, Math.ceil(Math.max(...values)) + RIM))];
  };
  const [left, right] = span(xs, width);
  const [top, bottom] = span(ys, height);
  return { x: left, y: top, w: right - left, h: bottom - top };
}

/** Returns how many bytes of scratch each part needs: for the largest piece of the photo behind a tile, and one line. */
export function warpScratch(map: Matrix, to: Layout, from: Layout): number {
  const area = { x: 0, y: 0, w: to.width, h: to.height };
  let most = 0;
  for (let i = 0; i < tileCount(area, WARP_TILE); i++) {
    const { w, h } = sourceOf(map, tileAt(area, WARP_TILE, i), from);
    most = Math.max(most, w * h);
  }
  return (most + WARP_TILE.width + 64) * PIXEL;
}

/** A table from bytes to linear light in the layout of the kernel `bakeRgbRows8`: reds, greens, then blue and alpha in turn. */
export function linearTable(): Float32Array {
  const light = Array.from({ length: 256 }, (_, i) => decode(i / 255));
  return Float32Array.from([...light, ...light, ...light.flatMap((v) => [v, 1])]);
}

/** Carries out a warp, as one worker of a pool. */
export function warp({ source, scratch }: Plan, pass: WarpPass, k: Kernels, pool: Pool): void {
  const { layout, map, tile, at } = pass;
  const room = scratch[pool.part] as number;
  for (const { x, y, w, h } of tiles(pool, { x: 0, y: 0, w: layout.width, h: layout.height }, tile)) {
    const from = sourceOf(map, { x, y, w, h }, source.layout);
    lighten(k, source, from, pass.table, room);
    const line = room + (from.w * from.h + 32) * PIXEL;
    for (let row = y; row < y + h; row++) {
      const [u, v, z] = [0, 3, 6].map((r) => (map[r] as number) * (x + 0.5) + (map[r + 1] as number) * (row + 0.5) + (map[r + 2] as number)) as [
        number,
        number,
        number,
      ];
      // Places are counted from the middle of the piece's first pixel.
      const [ox, oy] = [from.x + 0.5, from.y + 0.5];
      k.warp(line, room, from.w, from.h, w, u - ox * z, v - oy * z, z, map[0] - ox * map[6], map[3] - oy * map[6], map[6]);
      if (layout.channels === 4) k.part(line, line, w);
      k.fromLinear(line, line, w, 0);
      if (layout.channels === 4) k.unite(line, line, w);
      const to = at + (row * layout.width + x) * bytesPerPixel(layout);
      if (layout.channels === 4) k.storeRgba16(to, line, w);
      else {
        k.rgbRows(line, line, w);
        k.storeRgbRows16(to, line, w);
      }
    }
  }
}

/** A piece of the photo in linear light, premultiplied. */
function lighten(k: Kernels, { at, layout }: Plan['source'], { x, y, w, h }: Rect, table: number, to: number): void {
  const bytes = bytesPerPixel(layout);
  const load = loading(k, layout, 'rgba');
  for (let row = 0; row < h; row++) {
    const [d, s] = [to + row * w * PIXEL, at + ((y + row) * layout.width + x) * bytes];
    if (layout.channels === 3 && layout.depth === 8) {
      k.bakeRgbRows8(d, s, w, table);
      k.opaque(d, d, w);
      continue;
    }
    load(d, s, w);
    if (layout.channels === 4) k.part(d, d, w);
    k.toLinear(d, d, w, 0);
    if (layout.channels === 4) k.unite(d, d, w);
  }
}

/** Copies pixels by a map that consists of quarter turns, mirrors and whole-pixel shifts. Source and target both lie in `bytes`. */
export function copied(bytes: Uint8Array, from: number, source: Layout, to: number, layout: Layout, map: Matrix): void {
  if (!copies(map)) throw new Error('this map makes pixels anew');
  const size = bytesPerPixel(layout);
  const place = (x: number, y: number): number => {
    const [u, v] = mapped(map, x + 0.5, y + 0.5);
    const hold = (value: number, n: number): number => Math.min(n - 1, Math.max(0, Math.floor(value)));
    return hold(v, source.height) * source.width + hold(u, source.width);
  };
  for (let y = 0; y < layout.height; y++) {
    const first = place(0, y);
    const step = layout.width > 1 ? place(1, y) - first : 1;
    const row = to + y * layout.width * size;
    if (step === 1) {
      bytes.copyWithin(row, from + first * size, from + (first + layout.width) * size);
      continue;
    }
    for (let x = 0; x < layout.width; x++) {
      const s = from + (first + x * step) * size;
      for (let c = 0; c < size; c++) bytes[row + x * size + c] = bytes[s + c] as number;
    }
  }
}
