import type { Rect } from '../../pixels/picture';
import type { Pool } from '../work/pool';

export interface TileSize {
  readonly width: number;
  readonly height: number;
}

export const tileCount = ({ w, h }: Rect, tile: TileSize): number => Math.ceil(w / tile.width) * Math.ceil(h / tile.height);

/** Tile by number, row by row. */
export function tileAt(area: Rect, tile: TileSize, i: number): Rect {
  const across = Math.ceil(area.w / tile.width);
  const [x, y] = [(i % across) * tile.width, Math.floor(i / across) * tile.height];
  return { x: area.x + x, y: area.y + y, w: Math.min(tile.width, area.w - x), h: Math.min(tile.height, area.h - y) };
}

/** The largest tile size up to one given that leaves no narrow tiles at the ends: all workers then have about the same to do. */
export function evenly({ width, height }: TileSize, most: TileSize): TileSize {
  const even = (n: number, size: number): number => Math.ceil(n / Math.ceil(n / size));
  return { width: even(width, most.width), height: even(height, most.height) };
}

/** Tiles that leave no worker of a pool idle for long. */
const ENOUGH_TILES = 16;

/** Heights of tiles divide it, where bands of rows are told of, which are its multiples. */
const BAND = 256;

/** A large tile size, where an area has enough of these for a pool, else a small one; made even, but for its height where there are bands. */
export function fitting(area: TileSize, large: TileSize, small: TileSize, banded = false): TileSize {
  const enough = tileCount({ x: 0, y: 0, w: area.width, h: area.height }, evenly(area, large)) >= ENOUGH_TILES;
  const most = enough ? large : small;
  const { width, height } = evenly(area, most);
  return { width, height: banded ? Math.min(most.height, BAND) : height };
}

/** Tiles over an area, as this worker of a pool gets them. */
export function* tiles(pool: Pool, area: Rect, tile: TileSize): Generator<Rect> {
  const count = tileCount(area, tile);
  for (let i = pool.next(); i < count && !pool.stopped; i = pool.next()) yield tileAt(area, tile, i);
}
