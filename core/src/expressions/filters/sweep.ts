import type { Filter } from './filter';

/** Where a pixel is seen from, as a map of places in pixels by rows: x' = a x + b y + c, y' = d x + e y + f. */
export type Seen = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

/**
 * The mean of a picture as it is seen from several places: what moves while the shutter is open. Between pixels by straight lines. Numbers: how far it reads, then the
 * six of each place.
 */
export const sweep: Filter = {
  id: 'sweep',
  factor: () => 1,
  reach: ([reach = 0]) => Math.ceil(reach) + 2,
  table: ([, ...seen]) => Float32Array.from([seen.length / 6, 0, 0, 0, ...seen]),
  scratch: () => 0,
  mean: true,
  cost: 60,
  bind:
    (k) =>
    (d, s, w, h, { left, top, cols, rows }, ox, oy, table) =>
      k.sweep(d, s, w, h, left, top, cols, rows, ox, oy, table),
};
