import { overColours } from './light';
import { clamp, type Px, type Views } from './views';

const STEPS = 1024;

/** Twins of kernels/wasm/shape.ts. */
export function shape(m: Views) {
  const entry = (t: number, table: number): Px => {
    const i = Math.floor(t);
    const [low, high] = [m.px(table + 16 * i), m.px(table + 16 * i + 16)];
    return low.map((v, c) => v + ((high[c] as number) - v) * (t - i)) as Px;
  };
  return {
    byTone: (d: number, s: number, n: number, table: number): void =>
      overColours(m, d, s, n, ([l, a, b]) => {
        const [dl, da, db, k] = entry(clamp(l, 0, 1) * (STEPS - 1), table);
        return [l + dl, a * k + da, b * k + db];
      }),
    byHue: (d: number, s: number, by: number, n: number, table: number, knee: number): void =>
      overColours(m, d, s, n, ([l, a, b], i) => {
        const [, u, v] = m.px(by + 16 * i);
        const size = Math.max(Math.abs(u) + Math.abs(v), 1e-12);
        const [dl, co, si] = entry((v >= 0 ? 1 - u / size : 3 + u / size) * (STEPS / 4), table);
        const c2 = u * u + v * v;
        const w = c2 / (c2 + knee * knee);
        return [l + w * dl, a + w * ((co - 1) * a - si * b), b + w * (si * a + (co - 1) * b)];
      }),
    chroma: (d: number, s: number, n: number, gain: number, protect: number): void =>
      overColours(m, d, s, n, ([l, a, b]) => {
        const k = 1 + gain * (1 - protect * Math.min(Math.hypot(a, b) / 0.3, 1));
        return [l, a * k, b * k];
      }),
  };
}
