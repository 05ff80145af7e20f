import type { Filter } from './filter';

/**
 * A surface lit from one side: where tones rise towards the light they are lightened, where they fall, darkened. Numbers: where the light comes from, in pixels across
 * and down, as far as a rise is looked at; and the amount.
 */
export const relief: Filter = {
  id: 'relief',
  factor: () => 1,
  reach: ([x = 0, y = 0]) => Math.ceil(Math.hypot(x, y)) + 2,
  table: (numbers) => Float32Array.from([...numbers, 0]),
  scratch: () => 0,
  mean: false,
  cost: 10,
  bind:
    (k) =>
    (d, s, w, h, { left, top, cols, rows }, _ox, _oy, table) =>
      k.relief(d, s, w, h, left, top, cols, rows, table),
};
