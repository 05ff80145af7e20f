import type { Views } from './views';

/** Entries of a tone table. */
const ENTRIES = 4096;
/** How far a parabola may be from a table. */
const CLOSE = 4e-7;

/** Twins of kernels/wasm/fold.ts. */
export function bake(m: Views) {
  const eachPixel = (n: number, f: (i: number) => void): void => {
    for (let i = 0; i < n; i++) f(i);
  };
  const rgbRows = (d: number, n: number, read: (i: number, c: number) => number): void =>
    eachPixel(n, (i) =>
      m.setRgb(
        d + 12 * i,
        [0, 1, 2].map((c) => read(i, c)),
      ),
    );
  const baked = (d: number, n: number, table: number, greys: number, read: (i: number, c: number) => number): void =>
    rgbRows(d, n, (i, c) => m.f(table + (c === 2 ? 8 * (greys + read(i, 2)) : 4 * (c * greys + read(i, c)))));
  const bent = (d: number, n: number, bends: number, read: (i: number, c: number) => number): void =>
    rgbRows(d, n, (i, c) => {
      const [a, b, e] = [0, 48, 96].map((power) => m.f(bends + power + 4 * c)) as [number, number, number];
      const v = read(i, c);
      return a + v * (b + v * e);
    });

  return {
    ramp: (d: number, from: number, n: number, top: number): void =>
      eachPixel(n, (i) => {
        const v = (from + i) / top;
        m.setPx(d + 16 * i, [v, v, v, 1]);
      }),
    squares: (d: number, from: number, n: number, top: number): void =>
      eachPixel(n, (i) => {
        const v = ((from + i) / top) ** 2;
        m.setPx(d + 16 * i, [v, v, v, 1]);
      }),
    tables: (d: number, s: number): number => {
      let worst = 0;
      for (let i = 0; i < ENTRIES; i++)
        for (let c = 0; c < 3; c++) {
          const value = (entry: number): number => m.f(s + 16 * entry + 4 * c);
          const step = i + 1 < ENTRIES ? value(2 * i + 2) - value(2 * i) : 0;
          m.setF(d + 8 * (c * ENTRIES + i), value(2 * i));
          m.setF(d + 8 * (c * ENTRIES + i) + 4, step);
          if (i + 1 < ENTRIES) worst = Math.max(worst, Math.abs(value(2 * i) + step / 2 - value(2 * i + 1)));
        }
      return worst;
    },
    apart: (d: number, s: number, from: number, n: number, greys: number): void =>
      eachPixel(n, (i) => {
        const [r, g, b, a] = m.px(s + 16 * i);
        m.setF(d + 4 * (from + i), r);
        m.setF(d + 4 * (greys + from + i), g);
        m.setF(d + 8 * (greys + from + i), b);
        m.setF(d + 8 * (greys + from + i) + 4, a);
      }),
    pairs: (d: number, table: number): boolean => {
      const red = (i: number): number => m.f(table + 4 * i);
      for (let i = 0; i < 256; i++) if (m.f(table + 1024 + 4 * i) !== red(i) || m.f(table + 2048 + 8 * i) !== red(i)) return false;
      for (let i = 0; i < 65536; i++) {
        m.setF(d + 8 * i, red(i & 255));
        m.setF(d + 8 * i + 4, red(i >> 8));
      }
      return true;
    },
    bends: (d: number, table: number, greys: number): boolean => {
      let close = true;
      for (let c = 0; c < 3; c++) {
        const entry = (i: number): number => m.f(table + (c === 2 ? 8 * (greys + i) : 4 * (c * greys + i)));
        const [middle, top] = [greys / 2, greys - 1];
        const half = (entry(middle) - entry(0)) / middle;
        const bend = ((entry(top) - entry(0)) / top - half) / (top - middle);
        const [at, rise] = [entry(0), half - bend * middle];
        for (let i = 0; i < greys; i++) close &&= Math.abs(at + i * (rise + i * bend) - entry(i)) <= CLOSE;
        [at, rise, bend].forEach((value, power) => {
          for (let i = 0; i < 4; i++) m.setF(d + 48 * power + 12 * i + 4 * c, value);
        });
      }
      return close;
    },
    bakeBends8: (d: number, s: number, n: number, bends: number): void => bent(d, n, bends, (i, c) => m.u8[s + 3 * i + c] as number),
    bakeBends16: (d: number, s: number, n: number, bends: number): void => bent(d, n, bends, (i, c) => m.u16(s + 6 * i + 2 * c)),
    bakePairs8: (d: number, s: number, n: number, table: number): void => rgbRows(d, n, (i, c) => m.f(table + 8 * (m.u8[s + 3 * i + c] as number))),
    bakeRgbRows8: (d: number, s: number, n: number, table: number): void => baked(d, n, table, 256, (i, c) => m.u8[s + 3 * i + c] as number),
    bakeRgbRows16: (d: number, s: number, n: number, table: number): void => baked(d, n, table, 65536, (i, c) => m.u16(s + 6 * i + 2 * c)),
  };
}
