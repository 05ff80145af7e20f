import { held, span, weighted, type Views } from './views';

/** Twins of kernels/wasm/blur.ts. */
export function blur(m: Views) {
  const taps = (at: number, radius: number): number[] => Array.from({ length: 2 * radius + 1 }, (_, i) => m.f(at + 4 * Math.abs(i - radius)));

  return {
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
    firRgbRows: (d: number, s: number, n: number, radius: number, tapsAt: number, _line: number): void => {
      const weights = taps(tapsAt, radius);
      const made = span(0, n).map((x) =>
        weighted(
          span(x - radius, 2 * radius + 1).map((u) => m.rgb(s + 12 * held(u, n))),
          weights,
        ),
      );
      made.forEach((p, i) => m.setRgb(d + 12 * i, p));
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
  };
}
