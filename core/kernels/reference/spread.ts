import { luma } from '../../src/pixels/colour';
import { scramble } from './load-store';
import { overColours } from './light';
import { clamp, type Views } from './views';
import { placeAt } from './masks';

const soft = (t: number): number => clamp(t, 0, 1) ** 2 * (3 - 2 * clamp(t, 0, 1));
const share = (h: number): number => (h & 0xffff) / 65536;

/** Twins of kernels/wasm/spread.ts. */
export function spread(m: Views) {
  /** How strongly a hair or a speck covers a place, given from its own. */
  const covers = (
    { g, k }: { g: number; k: number },
    a: number,
    b: number,
    [, size, hairs, width, finest]: readonly [number, number, number, number, number],
  ): number => {
    if (share(g >>> 16) < hairs) {
      const way = share(k) * 6.2831853;
      const along = a * Math.cos(way) + b * Math.sin(way);
      const bend = (share(scramble(k)) - 0.5) * 1.6;
      const aside = b * Math.cos(way) - a * Math.sin(way) - bend * along * along;
      const half = Math.max(width, finest);
      const off = Math.hypot(Math.max(Math.abs(along) - (0.25 + 0.55 * share(k >>> 16)), 0), aside);
      return soft((half * 1.5 - off) / half) * Math.min(width / half, 1);
    }
    const own = size * (0.15 + 0.85 * share(k) ** 3);
    const r = Math.max(own, finest);
    const off = Math.hypot(a, b / (0.55 + 0.45 * share(k >>> 16)));
    return soft((r * 1.3 - off) / (r * 0.6)) * Math.min((own / r) ** 2, 1);
  };
  return {
    sum: (d: number, s: number, b: number, n: number, ka: number, kb: number): void =>
      overColours(m, d, s, n, (v, i) => {
        const other = m.px(b + 16 * i);
        return [ka * v[0] + kb * other[0], ka * v[1] + kb * other[1], ka * v[2] + kb * other[2]];
      }),
    shoulder: (d: number, s: number, n: number, knee: number): void =>
      overColours(m, d, s, n, (v) => {
        const peak = Math.max(...v);
        if (peak <= knee) return v;
        const over = peak - knee;
        const by = (knee + ((1 - knee) * over) / (1 - knee + over)) / peak;
        return [v[0] * by, v[1] * by, v[2] * by];
      }),
    crisp: (d: number, s: number, b: number, n: number, amount: number, threshold: number, light: number, dark: number): void =>
      overColours(m, d, s, n, (v, i) => {
        const [r, g, blue] = m.px(b + 16 * i);
        const off = luma(v) - luma([r, g, blue]);
        const wanted = (amount * off * off) / (Math.abs(off) + threshold + 1e-9);
        const limit = off > 0 ? light : dark;
        const rim = Math.sign(off) * ((wanted * limit) / (wanted + limit + 1e-9));
        return [v[0] + rim, v[1] + rim, v[2] + rim];
      }),
    dust: (d: number, n: number, x: number, y: number, t: number): void => {
      const [density = 0, size = 0, hairs = 0, width = 0, finest = 0, seed = 0] = Array.from({ length: 6 }, (_, i) => m.f(t + 48 + 4 * i));
      for (let i = 0; i < n; i++) {
        const [u, v] = placeAt(m, t, x + i, y);
        const [cx, cy] = [Math.floor(u), Math.floor(v)];
        let strongest = 0;
        for (const row of [cy - 1, cy, cy + 1])
          for (const column of [cx - 1, cx, cx + 1]) {
            const h = scramble(Math.imul(column, 0x85ebca77) ^ Math.imul(row, 0x9e3779b1) ^ Math.imul(seed, 0x9e3779b1));
            if (share(h) >= density) continue;
            const g = scramble((h + 1) >>> 0);
            const k = scramble((h + 2) >>> 0);
            const [a, b] = [u - column - share(h >>> 16), v - row - share(g)];
            strongest = Math.max(strongest, covers({ g, k }, a, b, [density, size, hairs, width, finest]));
          }
        m.setPx(d + 16 * i, [strongest, strongest, strongest, strongest]);
      }
    },
  };
}
