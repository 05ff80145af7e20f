import { luma } from '../../src/pixels/colour';
import { scramble } from './load-store';
import { overColours } from './light';
import { clamp, type Px, type Views } from './views';

const weights = (t: number): Px => [(1 - t) ** 3 / 6, (3 * t ** 3 - 6 * t * t + 4) / 6, (3 * (1 - t) ** 3 - 6 * (1 - t) ** 2 + 4) / 6, t ** 3 / 6];

/** Brings noise of a uniform byte, carried by splines both ways, to a standard deviation of 1. */
const TO_ONE = 3.6154;

/** Twin of kernels/wasm/grain.ts. */
export function grain(m: Views) {
  const speck = (column: number, row: number, seed: number): Px => {
    const h = scramble(Math.imul(column, 0x85ebca77) ^ Math.imul(row, 0x9e3779b1) ^ seed);
    return [0, 8, 16, 24].map((shift) => ((h >>> shift) & 255) * (2 / 255) - 1) as Px;
  };
  return {
    grain: (
      d: number,
      s: number,
      n: number,
      x: number,
      y: number,
      cells: number,
      amount: number,
      tint: number,
      middle: number,
      seed: number,
      _line: number,
    ): void => {
      const v = Math.fround(Math.fround(y + 0.5) * Math.fround(cells));
      const row = Math.floor(v);
      const down = weights(v - row);
      overColours(m, d, s, n, (colour, i) => {
        const u = Math.fround(Math.fround(x + i + 0.5) * Math.fround(cells));
        const column = Math.floor(u);
        const across = weights(u - column);
        const noise: Px = [0, 0, 0, 0];
        for (let j = 0; j < 4; j++)
          for (let k = 0; k < 4; k++) {
            const w = (across[j] as number) * (down[k] as number);
            speck(column + j, row + k, seed).forEach((value, c) => (noise[c] = (noise[c] as number) + w * value));
          }
        const tone = clamp(luma(colour), 0, 1);
        const weight = amount * TO_ONE * (1 - middle * (1 - 4 * tone * (1 - tone)));
        const more = (c: 0 | 1 | 2): number => colour[c] + weight * (noise[3] + (noise[c] - noise[3]) * tint);
        return [more(0), more(1), more(2)];
      });
    },
    filmGrain: (
      d: number,
      s: number,
      n: number,
      x: number,
      y: number,
      cells: number,
      reach: number,
      taps: number,
      gain: number,
      tint: number,
      middle: number,
      seed: number,
      way: number,
      backX: number,
      backY: number,
      table: number,
      _line: number,
    ): void => {
      const swapped = (way & 4) !== 0;
      const placeOf = (at: number, offset: number): { first: number; weights: number[] } => {
        const u = Math.fround(Math.fround(Math.fround(Math.fround(at + offset) + 0.5) * Math.fround(cells)) - Math.fround(reach));
        const whole = Math.floor(u);
        const phase = table + 32 * Math.floor(Math.fround(Math.fround(u - whole) * 256));
        return { first: whole + 1, weights: Array.from({ length: taps }, (_, k) => m.f(phase + 4 * k)) };
      };
      const rows = placeOf(y, 0);
      overColours(m, d, s, n, (colour, i) => {
        const columns = placeOf(x, i);
        const noise: Px = [0, 0, 0, 0];
        rows.weights.forEach((down, k) =>
          columns.weights.forEach((across, j) => {
            const column = (way & 1) !== 0 ? backX - columns.first - j : columns.first + j;
            const row = (way & 2) !== 0 ? backY - rows.first - k : rows.first + k;
            const of = swapped ? speck(row, column, seed) : speck(column, row, seed);
            of.forEach((value, c) => (noise[c] = (noise[c] as number) + across * down * value));
          }),
        );
        const tone = clamp(luma(colour), 0, 1);
        const weight = gain * (1 - middle * (1 - 4 * tone * (1 - tone)));
        const more = (c: 0 | 1 | 2): number => colour[c] + weight * (noise[3] + (noise[c] - noise[3]) * tint);
        return [more(0), more(1), more(2)];
      });
    },
  };
}
