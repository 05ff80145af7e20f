import { decodeRgb, encodeRgb, linearToOklab, luma, oklabToLinear, type Rgb } from '../../src/pixels/colour';
import { linearFrom, linearIn, narrowed } from '../../src/pixels/gamut';
import { rolledOff } from '../../src/pixels/roll-off';
import { clamp, type Px, type Views } from './views';

/** Runs f over the colours of n pixels; alpha stays. */
export const overColours = (m: Views, d: number, s: number, n: number, f: (colour: Rgb, i: number) => Rgb): void => {
  for (let i = 0; i < n; i++) {
    const [r, g, b, a] = m.px(s + 16 * i);
    m.setPx(d + 16 * i, [...f([r, g, b], i), a]);
  }
};

const each = (v: Rgb, f: (x: number, i: 0 | 1 | 2) => number): Rgb => [f(v[0], 0), f(v[1], 1), f(v[2], 2)];

/** Twins of kernels/wasm/light.ts. */
export function light(m: Views) {
  const four = (at: number): Px => m.px(at);
  return {
    /** The twins of these need no table. */
    toLinear: (d: number, s: number, n: number, _table: number): void => overColours(m, d, s, n, decodeRgb),
    fromLinear: (d: number, s: number, n: number, _table: number): void => overColours(m, d, s, n, encodeRgb),
    toOklab: (d: number, s: number, n: number, _table: number): void => overColours(m, d, s, n, (v) => linearToOklab(decodeRgb(v))),
    fromOklab: (d: number, s: number, n: number, _table: number): void => overColours(m, d, s, n, (v) => encodeRgb(oklabToLinear(v))),
    toOklabP3: (d: number, s: number, n: number, _table: number): void =>
      overColours(m, d, s, n, (v) => linearToOklab(linearFrom('display-p3', decodeRgb(v)))),
    fromOklabP3: (d: number, s: number, n: number, _table: number): void =>
      overColours(m, d, s, n, (v) => encodeRgb(linearIn('display-p3', oklabToLinear(v)))),
    rollOff: (d: number, s: number, n: number, knee: number, room: number): void => overColours(m, d, s, n, (v) => rolledOff(v, knee, room)),
    narrow: (d: number, s: number, n: number, _table: number): void => overColours(m, d, s, n, narrowed),
    matrix: (d: number, s: number, n: number, at: number): void => {
      const [r, g, b, o] = [four(at), four(at + 16), four(at + 32), four(at + 48)];
      overColours(m, d, s, n, ([x, y, z]) => each([0, 0, 0], (_v, i) => r[i] * x + g[i] * y + b[i] * z + o[i]));
    },
    matrixRgbRows: (d: number, s: number, n: number, at: number): void => {
      const [r, g, b, o] = [four(at), four(at + 16), four(at + 32), four(at + 48)];
      for (let p = 0; p < n; p++) {
        const [x, y, z] = m.rgb(s + 12 * p);
        m.setRgb(
          d + 12 * p,
          [0, 1, 2].map((i) => (r[i] as number) * x + (g[i] as number) * y + (b[i] as number) * z + (o[i] as number)),
        );
      }
    },
    raise: (d: number, s: number, n: number, pre: number, p: number, post: number): void =>
      overColours(m, d, s, n, (v) => each(v, (x) => (x > 0 ? post * (pre * x) ** p : 0))),
    cdl: (d: number, s: number, n: number, at: number): void => {
      const [slope, offset, power, saturation] = [four(at), four(at + 16), four(at + 32), m.f(at + 48)];
      overColours(m, d, s, n, (v) => {
        const graded = each(v, (x, i) => {
          const moved = clamp(x * slope[i] + offset[i], 0, 1);
          return moved > 0 ? moved ** power[i] : 0;
        });
        const grey = luma(graded);
        return each(graded, (x) => grey + (x - grey) * saturation);
      });
    },
    part: (d: number, s: number, n: number): void => {
      for (let i = 0; i < n; i++) {
        const [r, g, b, a] = m.px(s + 16 * i);
        m.setPx(d + 16 * i, a > 0 ? [r / a, g / a, b / a, a] : [0, 0, 0, a]);
      }
    },
    unite: (d: number, s: number, n: number): void => {
      for (let i = 0; i < n; i++) {
        const [r, g, b, a] = m.px(s + 16 * i);
        m.setPx(d + 16 * i, [r * a, g * a, b * a, a]);
      }
    },
  };
}
