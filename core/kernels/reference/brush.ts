import { clamp, type Views } from './views';
import { placeAt } from './masks';

const MAP = 48;
const EACH = 64;
const smooth = (t: number): number => clamp(t, 0, 1) ** 2 * (3 - 2 * clamp(t, 0, 1));

/** Twins of kernels/wasm/brush.ts. */
export function brush(m: Views) {
  const inBox = (at: number, x: number, y: number): boolean => x >= m.f(at) && y >= m.f(at + 4) && x <= m.f(at + 8) && y <= m.f(at + 12);
  /** The strongest of a stroke's segments at a place. */
  const strength = (t: number, stroke: number, u: number, v: number): number => {
    const [fade, first, count] = [m.f(stroke + 20), m.f(stroke + 24), m.f(stroke + 28)];
    let most = 0;
    for (let i = 0; i < count; i++) {
      const [x0, y0, dx, dy, il, r0, dr, f0, df] = Array.from({ length: 9 }, (_, k) => m.f(t + 4 * first + EACH * i + 4 * k)) as [
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
      ];
      const way = clamp(((u - x0) * dx + (v - y0) * dy) * il, 0, 1);
      const off = Math.hypot(u - x0 - way * dx, v - y0 - way * dy) / (r0 + way * dr);
      most = Math.max(most, smooth((1 - off) * fade) * (f0 + way * df));
    }
    return most;
  };
  const paint = (d: number, s: number, n: number, x: number, y: number, t: number, mixed: (v: number, m: number, sign: number) => number): void => {
    for (let i = 0; i < n; i++) {
      const [u, v] = placeAt(m, t, x + i, y);
      let value = m.px(s + 16 * i) as number[];
      for (let k = 0; k < m.f(t + MAP); k++) {
        const stroke = t + MAP + 16 + EACH * k;
        if (!inBox(stroke, x + i, y)) continue;
        const amount = strength(t, stroke, u, v);
        value = value.map((it) => mixed(it, amount, m.f(stroke + 16)));
      }
      m.setPx(d + 16 * i, value);
    }
  };
  return {
    brush: (d: number, s: number, n: number, x: number, y: number, t: number, _line: number): void =>
      paint(d, s, n, x, y, t, (v, amount, sign) => (sign > 0 ? v + (1 - v) * amount : v * (1 - amount))),
    lights: (d: number, s: number, n: number, x: number, y: number, t: number, _line: number): void =>
      paint(d, s, n, x, y, t, (v, amount, sign) => v + sign * amount),
  };
}
