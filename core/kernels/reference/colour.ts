import { clamp, span, straight, toneOf, type Views, type Weights } from './views';

const LAST = 4095;
/** Bytes of one tone table. */
const ONE = 4096 * 8;
const HAIR = 1e-6;

/** Twins of kernels/wasm/point.ts. */
export function point(m: Views) {
  const lookUp = (v: number, table: number): number => {
    const t = Math.sqrt(clamp(v, 0, 1)) * LAST;
    const i = Math.min(Math.floor(t), LAST);
    return m.f(table + 8 * i) + m.f(table + 8 * i + 4) * (t - i);
  };
  const eachPixel = (n: number, f: (i: number) => void): void => {
    for (let i = 0; i < n; i++) f(i);
  };
  const gateBy = (coverage: number, s: number, n: number, table: number, ...weights: Weights): void =>
    eachPixel(n, (i) => m.setF(coverage + 4 * i, m.f(coverage + 4 * i) * lookUp(toneOf(straight(m.px(s + 16 * i)), weights), table)));
  const inside = (v: number): boolean => v >= -HAIR && v <= 1 + HAIR;
  const curveBy = (d: number, s: number, n: number, table: number, apart: number): boolean =>
    span(0, n)
      .map((i) => {
        const [r, g, b, a] = m.px(s + 16 * i);
        m.setPx(d + 16 * i, [lookUp(r, table), lookUp(g, table + apart), lookUp(b, table + 2 * apart), a]);
        return [r, g, b, a].every(inside);
      })
      .every(Boolean);

  return {
    affine: (d: number, s: number, n: number, gain: number, offset: number): void =>
      eachPixel(n, (i) => {
        const [r, g, b, a] = m.px(s + 16 * i);
        m.setPx(d + 16 * i, [r * gain + a * offset, g * gain + a * offset, b * gain + a * offset, a]);
      }),
    affineRgbRows: (d: number, s: number, n: number, gain: number, offset: number): void =>
      eachPixel(3 * n, (i) => m.setF(d + 4 * i, m.f(s + 4 * i) * gain + offset)),
    curve: (d: number, s: number, n: number, table: number): boolean => curveBy(d, s, n, table, 0),
    curves: (d: number, s: number, n: number, table: number): boolean => curveBy(d, s, n, table, ONE),
    curveRgbRows: (d: number, s: number, n: number, table: number): boolean =>
      span(0, 3 * n)
        .map((i) => {
          const v = m.f(s + 4 * i);
          m.setF(d + 4 * i, lookUp(v, table));
          return inside(v);
        })
        .every(Boolean),
    choose: (d: number, s: number, a: number, b: number, n: number): void =>
      eachPixel(4 * n, (i) => m.setF(d + 4 * i, m.f((inside(m.f(s + 4 * i)) ? a : b) + 4 * i))),
    level: (coverage: number, n: number, k: number): void => eachPixel(n, (i) => m.setF(coverage + 4 * i, k)),
    gate: gateBy,
    gateAlpha: gateBy,
    fade: (d: number, a: number, b: number, n: number, t: number): void =>
      eachPixel(n, (i) => {
        const from = m.px(a + 16 * i);
        const to = m.px(b + 16 * i);
        m.setPx(
          d + 16 * i,
          from.map((v, c) => v + ((to[c] as number) - v) * t),
        );
      }),
    histogram: (bins: number, s: number, n: number, ...weights: Weights): void =>
      eachPixel(n, (i) => {
        const p = m.px(s + 16 * i);
        if (p[3] <= 0) return;
        const bin = Math.floor(clamp(toneOf(straight(p), weights), 0, 1) * 255 + 0.5);
        const counts = new Uint32Array(m.u8.buffer, bins, 256);
        counts[bin] = (counts[bin] as number) + 1;
      }),
  };
}
