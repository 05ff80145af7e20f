import { held, span, weighted, type Px, type Views } from './views';

const SIX = [1, 5, 10, 10, 5, 1].map((w) => w / 32);
const FOUR = [1, 3, 3, 1].map((w) => w / 8);

/** Twins of kernels/wasm/halve.ts. */
export function halve(m: Views) {
  const halveBy = (set: (i: number, p: Px) => void, at: (x: number, y: number) => Px, dw: number, j0: number, j1: number, weights = SIX): void => {
    for (let j = j0; j < j1; j++)
      for (let i = 0; i < dw; i++) {
        const rows = span(2 * j, weights.length).map((y) =>
          weighted(
            span(2 * i, weights.length).map((x) => at(x, y)),
            weights,
          ),
        );
        set(j * dw + i, weighted(rows, weights));
      }
  };

  /** Pixels of some rows of n RGB bytes, after `left` that repeat the first. */
  const bytesOf =
    (rows: readonly number[], n: number, left: number) =>
    (x: number, y: number): Px =>
      [0, 1, 2].map((c) => (m.u8[(rows[y] as number) + 3 * held(x - left, n) + c] as number) / 255).concat(1) as Px;
  const pixelsAt = (d: number) => (i: number, p: Px) => m.setPx(d + 16 * i, p);
  const rgbRowsAt = (d: number) => (i: number, p: Px) => m.setRgb(d + 12 * i, p);

  return {
    halve: (d: number, s: number, w: number, h: number, dw: number, j0: number, j1: number, _line: number): void =>
      halveBy(pixelsAt(d), (x, y) => m.px(s + 16 * (held(y - 6, h) * w + held(x - 6, w))), dw, j0, j1),
    halveRgbRowsImage: (d: number, s: number, w: number, h: number, dw: number, j0: number, j1: number, _line: number): void => {
      const stride = (n: number): number => 16 * Math.ceil((3 * n) / 4);
      const at = (x: number, y: number): Px => m.rgb(s + held(y - 6, h) * stride(w) + 12 * held(x - 6, w));
      halveBy((i, p) => m.setRgb(d + Math.floor(i / dw) * stride(dw) + 12 * (i % dw), p), at, dw, j0, j1);
    },
    halveRow: (d: number, a: number, b: number, c: number, e: number, g: number, h: number, dw: number, _line: number): void =>
      halveBy(pixelsAt(d), (x, y) => m.px(([a, b, c, e, g, h][y] as number) + 16 * x), dw, 0, 1),
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
      halveBy(rgbRowsAt(d), bytesOf([a, b, c, e, g, h], n, left), dw, 0, 1);
    },
    softenRow: (d: number, a: number, b: number, c: number, e: number, dw: number, _line: number): void =>
      halveBy(pixelsAt(d), (x, y) => m.px(([a, b, c, e][y] as number) + 16 * x), dw, 0, 1, FOUR),
    softenBytes: (d: number, a: number, b: number, c: number, e: number, n: number, left: number, _right: number, dw: number, _line: number): void =>
      halveBy(rgbRowsAt(d), bytesOf([a, b, c, e], n, left), dw, 0, 1, FOUR),
    softenBends: (
      d: number,
      a: number,
      b: number,
      c: number,
      e: number,
      n: number,
      left: number,
      _right: number,
      dw: number,
      _line: number,
      bends: number,
    ): void => {
      const byte = bytesOf([a, b, c, e], n, left);
      const along = (v: number, i: number): number => {
        const [begin, rise, bend] = [0, 48, 96].map((power) => m.f(bends + power + 4 * i)) as [number, number, number];
        return begin + 255 * v * (rise + 255 * v * bend);
      };
      halveBy(rgbRowsAt(d), (x, y) => byte(x, y).map(along) as Px, dw, 0, 1, FOUR);
    },
    softenRgbRows: (d: number, a: number, b: number, c: number, e: number, dw: number, _line: number): void =>
      halveBy(rgbRowsAt(d), (x, y) => m.rgb(([a, b, c, e][y] as number) + 12 * x), dw, 0, 1, FOUR),
    halveRgbRows: (d: number, a: number, b: number, c: number, e: number, g: number, h: number, dw: number, _line: number): void =>
      halveBy(rgbRowsAt(d), (x, y) => m.rgb(([a, b, c, e, g, h][y] as number) + 12 * x), dw, 0, 1),
  };
}
