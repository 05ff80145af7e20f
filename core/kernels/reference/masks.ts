import { luma } from '../../src/pixels/colour';
import { overColours } from './light';
import { clamp, toneOf, type Px, type Views, type Weights } from './views';

const smooth = (t: number): number => clamp(t, 0, 1) ** 2 * (3 - 2 * clamp(t, 0, 1));
const splat = (v: number): Px => [v, v, v, v];
/** Bytes of a map at the begin of a table. */
const MAP = 48;

/** The place of the photo that a pixel shows, by the map at the begin of a table. */
export function placeAt(m: Views, t: number, x: number, y: number): [number, number] {
  const row = (at: number): number => m.f(at) * x + m.f(at + 4) * y + m.f(at + 8);
  return [row(t) / row(t + 24), row(t + 12) / row(t + 24)];
}

/** Twins of kernels/wasm/where.ts. */
export function where(m: Views) {
  const each = (d: number, n: number, value: (i: number) => readonly number[]): void => {
    for (let i = 0; i < n; i++) m.setPx(d + 16 * i, value(i));
  };
  const numbers = (at: number, count: number): number[] => Array.from({ length: count }, (_, i) => m.f(at + 4 * i));
  const product = (a: Px, b: Px): number[] => a.map((v, c) => v * (b[c] as number));
  return {
    oval: (d: number, n: number, x: number, y: number, t: number): void => {
      const [cx = 0, cy = 0, co = 1, si = 0, ix = 1, iy = 1, box = 0, slope = 1] = numbers(t + MAP, 8);
      each(d, n, (i) => {
        const [px, py] = placeAt(m, t, x + i, y);
        const [u, v] = [px - cx, py - cy];
        const [a, b] = [Math.abs((u * co + v * si) * ix), Math.abs((v * co - u * si) * iy)].map((w) => Math.min(w, 1000)) as [number, number];
        const round = Math.hypot(a, b);
        const off = round + ((a ** 8 + b ** 8) ** (1 / 8) - round) * box;
        return splat(smooth((1 - off) * slope));
      });
    },
    strip: (d: number, n: number, x: number, y: number, t: number): void => {
      const [cx = 0, cy = 0, nx = 0, ny = 1, from = 0, rise = 1, to = 1, fall = 1] = numbers(t + MAP, 8);
      each(d, n, (i) => {
        const [u, v] = placeAt(m, t, x + i, y);
        const way = (u - cx) * nx + (v - cy) * ny;
        return splat(smooth((way - from) * rise) * smooth((to - way) * fall));
      });
    },
    mapped: (d: number, n: number, x: number, y: number, t: number): void => {
      const [width = 1, height = 1, scale = 1] = numbers(t + MAP, 3);
      const at = (i: number, j: number): number => m.f(t + MAP + 16 + 4 * (Math.min(j, height - 1) * width + Math.min(i, width - 1)));
      each(d, n, (i) => {
        const [u, v] = placeAt(m, t, x + i, y);
        const [a, b] = [clamp(u * scale + width / 2 - 0.5, 0, width - 1), clamp(v * scale + height / 2 - 0.5, 0, height - 1)];
        const [left, top] = [Math.floor(a), Math.floor(b)];
        const line = (j: number): number => at(left, j) + (at(left + 1, j) - at(left, j)) * (a - left);
        return splat(line(top) + (line(top + 1) - line(top)) * (b - top));
      });
    },
    tones: (d: number, s: number, n: number, from: number, rise: number, to: number, fall: number, ...weights: Weights): void =>
      each(d, n, (i) => {
        const [r, g, b] = m.px(s + 16 * i);
        const y = toneOf([r, g, b], weights);
        return splat(smooth((y - from) * rise) * smooth((to - y) * fall));
      }),
    colours: (d: number, s: number, n: number, t: number): void => {
      const [count = 0, near = 0, fall = 1] = numbers(t, 3);
      each(d, n, (i) => {
        const [l, a, b] = m.px(s + 16 * i);
        const offs = Array.from({ length: count }, (_, c) => m.px(t + 16 + 16 * c)).map(([cl, ca, cb]) => Math.hypot(l - cl, a - ca, b - cb));
        return splat(smooth(1 - (Math.min(...offs) - near) * fall));
      });
    },
    edges: (d: number, s: number, n: number, from: number, rise: number): void =>
      each(d, n, (i) => {
        const [mean, square] = m.px(s + 16 * i);
        return splat(smooth((Math.sqrt(Math.max(square - mean * mean, 0)) - from) * rise));
      }),
    scaled: (d: number, s: number, n: number, gain: number, offset: number): void =>
      each(d, n, (i) => m.px(s + 16 * i).map((v) => clamp(v * gain + offset, 0, 1))),
    either: (d: number, s: number, b: number, n: number): void =>
      each(d, n, (i) => {
        const other = m.px(b + 16 * i);
        return m.px(s + 16 * i).map((v, c) => 1 - (1 - v) * (1 - (other[c] as number)));
      }),
    both: (d: number, s: number, b: number, n: number): void => each(d, n, (i) => product(m.px(s + 16 * i), m.px(b + 16 * i))),
    weighed: (d: number, s: number, b: number, n: number): void => each(d, n, (i) => product(m.px(s + 16 * i), m.px(b + 16 * i))),
    evened: (d: number, s: number, b: number, n: number): void =>
      overColours(m, d, s, n, (v, i) => {
        const [r, g, blue, weight] = m.px(b + 16 * i);
        return weight > 1e-4 ? [r / weight, g / weight, blue / weight] : [v[0], v[1], v[2]];
      }),
    shared: (d: number, s: number, b: number, n: number): void =>
      each(d, n, (i) => {
        const weight = m.px(b + 16 * i);
        return m.px(s + 16 * i).map((v, c) => v / Math.max(weight[c] as number, 1e-4));
      }),
    amountMoments: (d: number, s: number, b: number, n: number): void =>
      each(d, n, (i) => {
        const [r, g, blue] = m.px(s + 16 * i);
        const [y, p] = [luma([r, g, blue]), m.f(b + 16 * i)];
        return [y, y * y, p, p * y];
      }),
    guided: (d: number, s: number, lines: number, n: number): void =>
      each(d, n, (i) => {
        const [r, g, b] = m.px(s + 16 * i);
        return splat(clamp(m.f(lines + 16 * i) * luma([r, g, b]) + m.f(lines + 16 * i + 4), 0, 1));
      }),
    lesser: (d: number, s: number, b: number, n: number): void =>
      each(d, n, (i) => {
        const other = m.px(b + 16 * i);
        return m.px(s + 16 * i).map((v, c) => Math.min(v, other[c] as number));
      }),
    beyond: (d: number, n: number, x: number, y: number, t: number): void =>
      each(d, n, (i) => {
        const [u, v] = placeAt(m, t, x + i, y);
        const [cx = 0, cy = 0, co = 0, si = 0, ix = 0, iy = 0, box = 0, , right = 0, left = 0, down = 0, up = 0] = Array.from(
          { length: 12 },
          (_, k) => m.f(t + 48 + 4 * k),
        );
        const [a, b] = [((u - cx) * co + (v - cy) * si) * ix, ((v - cy) * co - (u - cx) * si) * iy];
        const round = Math.hypot(a, b);
        const square = (a ** 8 + b ** 8) ** (1 / 8);
        const long = ((a > 0 ? right : left) * a * a + (b > 0 ? down : up) * b * b) / Math.max(round * round, 1e-12);
        return splat(smooth((round + (square - round) * box - 1) / long));
      }),
    quad: (d: number, n: number, x: number, y: number, t: number): void =>
      each(d, n, (i) => {
        const side = (k: number): number => clamp(m.f(t + 4 * k) * (x + i) + m.f(t + 16 + 4 * k) * y + m.f(t + 32 + 4 * k) + 0.5, 0, 1);
        return splat(side(0) * side(1) * side(2) * side(3));
      }),
    colourOf: (d: number, s: number, n: number): void =>
      each(d, n, (i) => {
        const [r, g, b, alpha] = m.px(s + 16 * i);
        return alpha > 0 ? [r / alpha, g / alpha, b / alpha, 1] : [0, 0, 0, 1];
      }),
    alphaOf: (d: number, s: number, n: number): void => each(d, n, (i) => splat(m.px(s + 16 * i)[3])),
    greys: (d: number, s: number, n: number): void => each(d, n, (i) => [...m.px(s + 16 * i).slice(0, 3), 1]),
    holds: (s: number, n: number, k: number): boolean => {
      for (let i = 0; i < n; i++) if (m.f(s + 16 * i) !== k) return false;
      return true;
    },
    lets: (coverage: number, s: number, n: number): void => {
      for (let i = 0; i < n; i++) m.setF(coverage + 4 * i, m.f(coverage + 4 * i) * m.f(s + 16 * i));
    },
    exposed: (d: number, s: number, map: number, n: number, stops: number, whites: number, soft: number): void =>
      overColours(m, d, s, n, (v, i) => {
        const peak = clamp(Math.max(...v), 0, 1);
        const wanted = m.f(map + 16 * i) * stops;
        const spared = wanted < 0 ? wanted * (1 - whites * smooth((luma(v) - 0.5) * 2.5)) : wanted;
        const gain = 2 ** clamp(spared * (1 - (soft * 0.004) / (peak + 0.004)), -24, 24);
        const bent = gain > 1 ? gain / (1 + soft * (gain - 1) * peak) : gain;
        return [v[0] * bent, v[1] * bent, v[2] * bent];
      }),
  };
}
