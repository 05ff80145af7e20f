import { clamp, type Px, type Views } from './views';

/** Twins of kernels/wasm/cube.ts. */
export function cube(m: Views) {
  const placeOf = (v: Px, table: number): number[] =>
    [0, 1, 2].map((c) => clamp(((v[c] as number) - m.f(table + 16 + 4 * c)) * m.f(table + 32 + 4 * c), 0, m.f(table + 4)));
  const entry = (table: number, i: number): Px => m.px(table + 48 + 16 * i);
  return {
    ramps: (d: number, s: number, n: number, table: number): void => {
      const last = m.f(table + 4);
      for (let i = 0; i < n; i++) {
        const v = m.px(s + 16 * i);
        const [r, g, b] = placeOf(v, table).map((t, c) => {
          const low = Math.min(last - 1, Math.floor(t));
          const [from, to] = [entry(table, low)[c] as number, entry(table, low + 1)[c] as number];
          return from + (to - from) * (t - low);
        }) as [number, number, number];
        m.setPx(d + 16 * i, [r, g, b, v[3]]);
      }
    },
    /** The weights of a cell's corners: along the axes in the order of how far on the place is (H. Kang 2006, 4.4). */
    lattice: (d: number, s: number, n: number, table: number): void => {
      const [size, last] = [m.f(table), m.f(table + 4)];
      const steps = [1, size, size * size];
      for (let i = 0; i < n; i++) {
        const v = m.px(s + 16 * i);
        const places = placeOf(v, table);
        const cell = places.map((t) => Math.min(last - 1, Math.floor(t)));
        const rest = places.map((t, c) => t - (cell[c] as number));
        let at = cell.reduce((sum, index, c) => sum + index * (steps[c] as number), 0);
        const out = [...entry(table, at)];
        for (const axis of [0, 1, 2].sort((a, b) => (rest[b] as number) - (rest[a] as number))) {
          const from = entry(table, at);
          at += steps[axis] as number;
          entry(table, at).forEach((value, c) => (out[c] = (out[c] as number) + (value - (from[c] as number)) * (rest[axis] as number)));
        }
        m.setPx(d + 16 * i, [out[0] as number, out[1] as number, out[2] as number, v[3]]);
      }
    },
  };
}
