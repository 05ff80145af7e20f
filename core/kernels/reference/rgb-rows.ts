import { span, type Views } from './views';

/** Twins of kernels/wasm/RGB rows.ts. */
export function rgbRows(m: Views) {
  return {
    rgbRows: (d: number, s: number, n: number): void => span(0, n).forEach((i) => m.setRgb(d + 12 * i, m.px(s + 16 * i))),
    opaque: (d: number, s: number, n: number): void =>
      span(0, n)
        .reverse()
        .forEach((i) => m.setPx(d + 16 * i, m.rgb(s + 12 * i))),
    extendRgbRows: (d: number, n: number, left: number, right: number): void => {
      for (let i = 1; i <= left; i++) m.setRgb(d - 12 * i, m.rgb(d));
      for (let i = 0; i < right; i++) m.setRgb(d + 12 * (n + i), m.rgb(d + 12 * (n - 1)));
    },
    extend: (d: number, n: number, left: number, right: number): void => {
      for (let i = 1; i <= left; i++) m.setPx(d - 16 * i, m.px(d));
      for (let i = 0; i < right; i++) m.setPx(d + 16 * (n + i), m.px(d + 16 * (n - 1)));
    },
  };
}
