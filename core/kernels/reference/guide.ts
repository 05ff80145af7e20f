import { luma } from '../../src/pixels/colour';
import { overColours } from './light';
import { clamp, type Views } from './views';

/** Share of its darkest channel that clearing may take from a pixel. */
const MOST_TAKEN = 0.72;

/** Twins of kernels/wasm/guide.ts. */
export function guide(m: Views) {
  const look = (x: number, table: number): number => {
    const t = clamp(x, 0, 1) * 1023;
    const i = Math.floor(t);
    return m.f(table + 4 * i) + (m.f(table + 4 * i + 4) - m.f(table + 4 * i)) * (t - i);
  };
  const spreadOf = (mean: number, square: number): number => Math.max(square - mean * mean, 0);
  return {
    moments: (d: number, s: number, n: number): void =>
      overColours(m, d, s, n, (v) => {
        const y = luma(v);
        return [y, y * y, 0];
      }),
    fitLine: (d: number, s: number, n: number, least: number): void =>
      overColours(m, d, s, n, ([mean, square]) => {
        const a = spreadOf(mean, square) / (spreadOf(mean, square) + least);
        return [a, mean - a * mean, 0];
      }),
    detail: (d: number, s: number, lines: number, n: number, amount: number): void =>
      overColours(m, d, s, n, ([r, g, b], i) => {
        const y = luma([r, g, b]);
        const more = (y - (m.f(lines + 16 * i) * y + m.f(lines + 16 * i + 4))) * amount;
        return [r + more, g + more, b + more];
      }),
    chromaMoments: (d: number, s: number, n: number): void => {
      for (let i = 0; i < n; i++) {
        const [red, green, blue] = m.px(s + 16 * i);
        const y = luma([red, green, blue]);
        m.setPx(d + 16 * i, [red - y, (red - y) ** 2, blue - y, (blue - y) ** 2]);
      }
    },
    fitColour: (d: number, s: number, n: number, least: number): void => {
      for (let i = 0; i < n; i++) {
        const [r, rr, b, bb] = m.px(s + 16 * i);
        const spread = spreadOf(r, rr) + spreadOf(b, bb);
        const slope = spread / (spread + least);
        m.setPx(d + 16 * i, [slope, r - slope * r, slope, b - slope * b]);
      }
    },
    smoothed: (d: number, s: number, lines: number, n: number): void =>
      overColours(m, d, s, n, (v, i) => {
        const y = luma(v);
        const [slopeR, offsetR, slopeB, offsetB] = m.px(lines + 16 * i);
        const [r, b] = [slopeR * (v[0] - y) + offsetR, slopeB * (v[2] - y) + offsetB];
        return [y + r, y - (0.2126 * r + 0.0722 * b) / 0.7152, y + b];
      }),
    shade: (d: number, s: number, n: number, table: number): void => overColours(m, d, s, n, (v) => [look(Math.min(...v), table), 0, 0]),
    shadeMoments: (d: number, s: number, dark: number, n: number, table: number): void => {
      for (let i = 0; i < n; i++) {
        const [r, g, b] = m.px(s + 16 * i);
        const y = luma([r, g, b]);
        const x = look(m.f(dark + 16 * i), table);
        m.setPx(d + 16 * i, [y, y * y, x, x * y]);
      }
    },
    fitShade: (d: number, s: number, n: number, least: number): void => {
      for (let i = 0; i < n; i++) {
        const [mean, square, x, xy] = m.px(s + 16 * i);
        const a = (xy - mean * x) / (spreadOf(mean, square) + least);
        m.setPx(d + 16 * i, [a, x - a * mean, 0, 1]);
      }
    },
    clear: (d: number, s: number, lines: number, n: number, amount: number, air: number): void =>
      overColours(m, d, s, n, (v, i) => {
        const share = (m.f(lines + 16 * i) * luma(v) + m.f(lines + 16 * i + 4)) / air;
        const more = 1 / Math.max(1 - amount * clamp(share, 0, 1), 0.1) - 1;
        const least = Math.min(...v);
        const taken = Math.max(air - least, 0) * more;
        const room = Math.max(MOST_TAKEN * least, 1e-6);
        const by = 1 + more / (1 + (taken / room) ** 4) ** (1 / 4);
        return [(v[0] - air) * by + air, (v[1] - air) * by + air, (v[2] - air) * by + air];
      }),
  };
}
