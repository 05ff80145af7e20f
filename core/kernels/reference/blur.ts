import { held, type Px, type Views } from './views';

const weighted = (pixels: readonly Px[], weights: readonly number[]): Px => {
  const sum: Px = [0, 0, 0, 0];
  pixels.forEach((p, i) => p.forEach((v, c) => ((sum[c] as number) += v * (weights[i] as number))));
  return sum;
};
const SIX = [1, 5, 10, 10, 5, 1].map((w) => w / 32);
const FOUR = [1, 3, 3, 1].map((w) => w / 8);

/** Twins of kernels/wasm/blur.ts. */
export function blur(m: Views) {
  const taps = (at: number, radius: number): number[] => Array.from({ length: 2 * radius + 1 }, (_, i) => m.f(at + 4 * Math.abs(i - radius)));
  const span = (from: number, n: number): number[] => Array.from({ length: n }, (_, i) => from + i);

  const halveBy = (d: number, at: (x: number, y: number) => Px, dw: number, j0: number, j1: number, weights = SIX): void => {
    for (let j = j0; j < j1; j++)
      for (let i = 0; i < dw; i++) {
        const rows = span(2 * j, weights.length).map((y) =>
          weighted(
            span(2 * i, weights.length).map((x) => at(x, y)),
            weights,
          ),
        );
        m.setPx(d + 16 * (j * dw + i), weighted(rows, weights));
      }
  };

  const growBy = (
    d: number,
    at: (column: number, row: number) => Px,
    lw: number,
    lh: number,
    by: number,
    origin: number,
    weightsAt: number,
    x: number,
    y: number,
    n: number,
  ): void => {
    const phase = (u: number): number[] => span(0, 4).map((i) => m.f(weightsAt + 16 * (u % by) + 4 * i));
    const rows = span(Math.floor((y + origin) / by) - 1, 4).map((r) => held(r, lh));
    for (let i = 0; i < n; i++) {
      const u = x + i + origin;
      const columns = span(Math.floor(u / by) - 1, 4).map((c) => held(c, lw));
      const down = columns.map((c) =>
        weighted(
          rows.map((r) => at(c, r)),
          phase(y + origin),
        ),
      );
      m.setPx(d + 16 * i, weighted(down, phase(u)));
    }
  };

  const triple = (at: number): Px => [m.f(at), m.f(at + 4), m.f(at + 8), 1];
  const setTriple = (at: number, [r, g, b]: Px): void => [r, g, b].forEach((v, c) => m.setF(at + 4 * c, v));
  /** Pixels of some rows of n RGB bytes, after `left` that repeat the first. */
  const bytesOf =
    (rows: readonly number[], n: number, left: number) =>
    (x: number, y: number): Px =>
      [0, 1, 2].map((c) => (m.u8[(rows[y] as number) + 3 * held(x - left, n) + c] as number) / 255).concat(1) as Px;
  /** Pixels as the twins above make them, put down as triples. */
  const asTriples = (d: number, n: number, make: (to: number) => void): void => {
    const spare = m.f32.slice(d >> 2, (d >> 2) + 4 * n);
    make(d);
    const made = span(0, n).map((i) => m.px(d + 16 * i));
    m.f32.set(spare, d >> 2);
    made.forEach((p, i) => setTriple(d + 12 * i, p));
  };

  return {
    halve: (d: number, s: number, w: number, h: number, dw: number, j0: number, j1: number, _line: number): void =>
      halveBy(d, (x, y) => m.px(s + 16 * (held(y - 6, h) * w + held(x - 6, w))), dw, j0, j1),
    halveRow: (d: number, a: number, b: number, c: number, e: number, g: number, h: number, dw: number, _line: number): void =>
      halveBy(d, (x, y) => m.px(([a, b, c, e, g, h][y] as number) + 16 * x), dw, 0, 1),
    halveBytes: (
      d: number,
      a: number,
      b: number,
      c: number,
      e: number,
      g: number,
      h: number,
      n: number,
      left: number,
      _right: number,
      dw: number,
      _line: number,
    ): void => {
      asTriples(d, dw, (to) => halveBy(to, bytesOf([a, b, c, e, g, h], n, left), dw, 0, 1));
    },
    softenRow: (d: number, a: number, b: number, c: number, e: number, dw: number, _line: number): void =>
      halveBy(d, (x, y) => m.px(([a, b, c, e][y] as number) + 16 * x), dw, 0, 1, FOUR),
    softenBytes: (d: number, a: number, b: number, c: number, e: number, n: number, left: number, _right: number, dw: number, _line: number): void =>
      asTriples(d, dw, (to) => halveBy(to, bytesOf([a, b, c, e], n, left), dw, 0, 1, FOUR)),
    halveTriples: (d: number, a: number, b: number, c: number, e: number, g: number, h: number, dw: number, _line: number): void =>
      halveBy(d, (x, y) => triple(([a, b, c, e, g, h][y] as number) + 12 * x), dw, 0, 1),
    triples: (d: number, s: number, n: number): void => span(0, n).forEach((i) => setTriple(d + 12 * i, m.px(s + 16 * i))),
    opaque: (d: number, s: number, n: number): void => span(0, n).forEach((i) => m.setPx(d + 16 * i, triple(s + 12 * i))),
    extend: (d: number, n: number, left: number, right: number): void => {
      for (let i = 1; i <= left; i++) m.setPx(d - 16 * i, m.px(d));
      for (let i = 0; i < right; i++) m.setPx(d + 16 * (n + i), m.px(d + 16 * (n - 1)));
    },
    firAcross: (
      d: number,
      dStride: number,
      s: number,
      sStride: number,
      sw: number,
      from: number,
      n: number,
      rows: number,
      radius: number,
      tapsAt: number,
      _line: number,
    ): void => {
      const weights = taps(tapsAt, radius);
      for (let y = 0; y < rows; y++)
        for (let x = 0; x < n; x++) {
          const window = span(from + x - radius, 2 * radius + 1).map((u) => m.px(s + 16 * (y * sStride + held(u, sw))));
          m.setPx(d + 16 * (y * dStride + x), weighted(window, weights));
        }
    },
    firTriples: (d: number, s: number, n: number, radius: number, tapsAt: number, _line: number): void => {
      const weights = taps(tapsAt, radius);
      const made = span(0, n).map((x) =>
        weighted(
          span(x - radius, 2 * radius + 1).map((u) => triple(s + 12 * held(u, n))),
          weights,
        ),
      );
      made.forEach((p, i) => setTriple(d + 12 * i, p));
    },
    firDown: (
      d: number,
      dStride: number,
      s: number,
      sStride: number,
      sh: number,
      from: number,
      rows: number,
      n: number,
      radius: number,
      tapsAt: number,
    ): void => {
      const weights = taps(tapsAt, radius);
      for (let y = 0; y < rows; y++)
        for (let x = 0; x < n; x++) {
          const window = span(from + y - radius, 2 * radius + 1).map((v) => m.px(s + 16 * (held(v, sh) * sStride + x)));
          m.setPx(d + 16 * (y * dStride + x), weighted(window, weights));
        }
    },
    grow: (
      d: number,
      s: number,
      lw: number,
      lh: number,
      by: number,
      origin: number,
      weights: number,
      x: number,
      y: number,
      n: number,
      _line: number,
    ): void => growBy(d, (c, r) => m.px(s + 16 * (r * lw + c)), lw, lh, by, origin, weights, x, y, n),
    growTwice: (
      d: number,
      s: number,
      lw: number,
      lh: number,
      origin: number,
      weights: number,
      x: number,
      y: number,
      n: number,
      _line: number,
    ): void => growBy(d, (c, r) => m.px(s + 16 * (r * lw + c)), lw, lh, 2, origin, weights, x, y, n),
    growFourfold: (
      d: number,
      s: number,
      lw: number,
      lh: number,
      origin: number,
      weights: number,
      x: number,
      y: number,
      n: number,
      _line: number,
    ): void => growBy(d, (c, r) => m.px(s + 16 * (r * lw + c)), lw, lh, 4, origin, weights, x, y, n),
  };
}
