import { held, span, weighted, type Views } from './views';

/** Twins of kernels/wasm/grow.ts. */
export function grow(m: Views) {
  const growBy = (
    d: number,
    s: number,
    lw: number,
    lh: number,
    by: number,
    origin: number,
    weightsAt: number,
    x: number,
    y: number,
    n: number,
    _line?: number,
  ): void => {
    const phase = (u: number): number[] => span(0, 4).map((i) => m.f(weightsAt + 16 * (u % by) + 4 * i));
    const rows = span(Math.floor((y + origin) / by) - 1, 4).map((r) => held(r, lh));
    for (let i = 0; i < n; i++) {
      const u = x + i + origin;
      const columns = span(Math.floor(u / by) - 1, 4).map((c) => held(c, lw));
      const down = columns.map((c) =>
        weighted(
          rows.map((r) => m.px(s + 16 * (r * lw + c))),
          phase(y + origin),
        ),
      );
      m.setPx(d + 16 * i, weighted(down, phase(u)));
    }
  };

  const growTimes =
    (by: number) =>
    (d: number, s: number, lw: number, lh: number, origin: number, weights: number, x: number, y: number, n: number, _line: number): void =>
      growBy(d, s, lw, lh, by, origin, weights, x, y, n);

  return { grow: growBy, growTwice: growTimes(2), growFourfold: growTimes(4) };
}
