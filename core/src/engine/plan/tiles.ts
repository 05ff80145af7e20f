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

/** Returns the largest tile size, up to a given one, that leaves no narrow tiles at the edges, so that all workers get about the same amount of work. */
export function evenly({ width, height }: TileSize, most: TileSize): TileSize {
  const even = (n: number, size: number): number => Math.ceil(n / Math.ceil(n / size));
  return { width: even(width, most.width), height: even(height, most.height) };
}

/** Tiles that leave no worker of a pool idle for long. */
const ENOUGH_TILES = 16;

/** Bands are multiples of this many rows; where bands are reported, the heights of tiles divide it. */
const BAND = 256;

/** Returns a large tile size where the area holds enough such tiles for the pool, and a small one otherwise. Sizes are evened out, except heights where bands are reported. */
export function fitting(area: TileSize, large: TileSize, small: TileSize, banded = false): TileSize {
  const enough = tileCount({ x: 0, y: 0, w: area.width, h: area.height }, evenly(area, large)) >= ENOUGH_TILES;
  const most = enough ? large : small;
  const { width, height } = evenly(area, most);
  return { width, height: banded ? Math.min(most.height, BAND) : height };
}

/** Yields the tiles of an area that this worker of the pool takes. */
export function* tiles(pool: Pool, area: Rect, tile: TileSize): Generator<Rect> {
  const count = tileCount(area, tile);
  for (let i = pool.next(); i < count && !pool.stopped; i = pool.next()) yield tileAt(area, tile, i);
}
