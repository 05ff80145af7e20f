import { held, span, weighted, type Px, type Views } from './views';

/** What four neighbours give to a place between the middle two (M. Unser, "Splines", 1999). */
const spline = (t: number): number[] => {
  const u = 1 - t;
  return [u ** 3 / 6, (3 * t ** 3 - 6 * t ** 2 + 4) / 6, (3 * u ** 3 - 6 * u ** 2 + 4) / 6, t ** 3 / 6];
};

/** Twins of kernels/wasm/grow.ts. */
export function grow(m: Views) {
  const twice =
    (at: (s: number, lw: number, row: number, column: number) => Px, set: (d: number, i: number, p: Px) => void) =>
    (d: number, s: number, lw: number, lh: number, origin: number, weightsAt: number, x: number, y: number, n: number, _line: number): void => {
      const phase = (u: number): number[] => span(0, 4).map((i) => m.f(weightsAt + 16 * (u % 2) + 4 * i));
      const rows = span(Math.floor((y + origin) / 2) - 1, 4).map((r) => held(r, lh));
      for (let i = 0; i < n; i++) {
        const u = x + i + origin;
        const columns = span(Math.floor(u / 2) - 1, 4).map((c) => held(c, lw));
        const down = columns.map((c) =>
          weighted(
            rows.map((r) => at(s, lw, r, c)),
            phase(y + origin),
          ),
        );
        set(d, i, weighted(down, phase(u)));
      }
    };

  const across =
    (at: (row: number, i: number) => Px, set: (d: number, i: number, p: Px) => void) =>
    (d: number, row: number, by: number, origin: number, phases: number, x: number, n: number): void => {
      for (let i = 0; i < n; i++) {
        const u = x + i + origin;
        const near = span(Math.floor(u / by) - 1, 4).map((column) => at(row, column));
        set(d, i, weighted(near, spline(m.f(phases + 4 * (u % by)))));
      }
    };

  return {
    growTwice: twice(
      (s, lw, row, column) => m.px(s + 16 * (row * lw + column)),
      (d, i, p) => m.setPx(d + 16 * i, p),
    ),
    growRgbRowsTwice: twice(
      (s, lw, row, column) => m.rgb(s + 16 * row * Math.ceil((3 * lw) / 4) + 12 * column),
      (d, i, p) => m.setRgb(d + 12 * i, p),
    ),
    growAcross: across(
      (s, i) => m.px(s + 16 * i),
      (d, i, p) => m.setPx(d + 16 * i, p),
    ),
    growRgbRowsAcross: across(
      (s, i) => m.rgb(s + 12 * i),
      (d, i, p) => m.setRgb(d + 12 * i, p),
    ),
    growOpaqueAcross: across(
      (s, i) => m.rgb(s + 12 * i),
      (d, i, p) => m.setPx(d + 16 * i, p),
    ),
    growDown: (d: number, stride: number, a: number, b: number, c: number, e: number, by: number, phase: number, rows: number, n: number): void => {
      for (let y = 0; y < rows; y++)
        for (let i = 0; i < n; i++) {
          const near = [a, b, c, e].map((row) => m.px(row + 16 * i));
          m.setPx(d + y * stride + 16 * i, weighted(near, spline((phase + y + 0.5) / by)));
        }
    },
  };
}
