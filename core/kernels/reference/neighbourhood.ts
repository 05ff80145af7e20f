import { luma } from '../../src/pixels/colour';
import { held, span, type Px, type Views } from './views';

type Four = readonly [number, number, number, number];
const zero = (): Px => [0, 0, 0, 0];
const three = (v: readonly number[]): number => (v[0] ?? 0) + (v[1] ?? 0) + (v[2] ?? 0);

/** Twins of kernels/wasm/near.ts. */
export function near(m: Views) {
  const at = (s: number, w: number, h: number, x: number, y: number): Px => m.px(s + 16 * (held(y, h) * w + held(x, w)));
  /** Between four pixels, by straight lines; the border goes on. */
  const between = (s: number, w: number, h: number, x: number, y: number): Px => {
    const [u, v] = [held(x, w), held(y, h)];
    const [i, j] = [Math.floor(u), Math.floor(v)];
    const mixed = (a: Px, b: Px, t: number): Px => a.map((value, c) => value + ((b[c] as number) - value) * t) as Px;
    return mixed(mixed(at(s, w, h, i, j), at(s, w, h, i + 1, j), u - i), mixed(at(s, w, h, i, j + 1), at(s, w, h, i + 1, j + 1), u - i), v - j);
  };
  /** How colours change across and down, after Sobel: xx, yy, xy. */
  const steepness = (s: number, w: number, h: number, x: number, y: number): Four => {
    const side = (c: 0 | 1 | 2, dx: number, dy: number): number => {
      const weights = [1, 2, 1];
      return weights.reduce((sum, k, i) => {
        const [a, b] = dx
          ? [at(s, w, h, x + 1, y + i - 1), at(s, w, h, x - 1, y + i - 1)]
          : [at(s, w, h, x + i - 1, y + dy), at(s, w, h, x + i - 1, y - dy)];
        return sum + k * (a[c] - b[c]);
      }, 0);
    };
    const colours = ([0, 1, 2] as const).map((c) => [side(c, 1, 0), side(c, 0, 1)] as const);
    const sum = (f: (v: readonly [number, number]) => number): number => colours.reduce((total, v) => total + f(v), 0);
    return [sum(([x0]) => x0 * x0), sum(([, y0]) => y0 * y0), sum(([x0, y0]) => x0 * y0), 0];
  };
  /** The eight sectors' weights at a place within an ellipse of radius a half. */
  const sectors = (u: number, v: number, zeta: number, eta: number): number[] => {
    const four = (x: number, y: number): number[] => {
      const [a, b] = [zeta - eta * x * x, zeta - eta * y * y];
      return [y + a, b - x, a - y, x + b].map((z) => Math.max(0, z) ** 2);
    };
    const all = [...four(u, v), ...four(Math.SQRT1_2 * (u - v), Math.SQRT1_2 * (u + v))];
    const sum = all.reduce((total, z) => total + z, 0);
    const window = (1 - 0.390625 * (u * u + v * v)) ** 8;
    return all.map((z) => (z * window) / Math.max(sum, 1e-12));
  };

  return {
    aperture: (
      d: number,
      s: number,
      w: number,
      h: number,
      left: number,
      top: number,
      cols: number,
      rows: number,
      table: number,
      _scratch: number,
    ): void => {
      const [reach, n] = [m.f(table), m.f(table + 4)];
      const shares = table + 4 * (4 + 2 * n + 2 * n * n);
      const places = span(-reach, 2 * reach + 1);
      for (let y = top; y < top + rows; y++)
        for (let x = left; x < left + cols; x++) {
          const sum = zero();
          for (const j of places)
            for (const i of places) {
              const share = m.f(shares + 4 * ((j + reach) * (2 * reach + 1) + i + reach));
              // What lies on this side of the opening is seen through its other side.
              if (share !== 0) at(s, w, h, x - i, y - j).forEach((v, c) => (sum[c] = (sum[c] as number) + share * v));
            }
          m.setPx(d + 16 * (y * w + x), sum);
        }
    },
    sweep: (
      d: number,
      s: number,
      w: number,
      h: number,
      left: number,
      top: number,
      cols: number,
      rows: number,
      ox: number,
      oy: number,
      table: number,
    ): void => {
      const count = m.f(table);
      for (let y = top; y < top + rows; y++)
        for (let x = left; x < left + cols; x++) {
          const sum = zero();
          for (const k of span(0, count)) {
            const [a, b, c, e, f, g] = span(0, 6).map((i) => m.f(table + 16 + 24 * k + 4 * i)) as [number, number, number, number, number, number];
            const [px, py] = [x + ox + 0.5, y + oy + 0.5];
            between(s, w, h, a * px + b * py + c - ox - 0.5, e * px + f * py + g - oy - 0.5).forEach(
              (v, i) => (sum[i] = (sum[i] as number) + v / count),
            );
          }
          m.setPx(d + 16 * (y * w + x), sum);
        }
    },
    relief: (d: number, s: number, w: number, h: number, left: number, top: number, cols: number, rows: number, table: number): void => {
      const [dx, dy, amount] = [m.f(table), m.f(table + 4), m.f(table + 8)];
      const tone = (v: Px): number => luma([v[0], v[1], v[2]]);
      for (let y = top; y < top + rows; y++)
        for (let x = left; x < left + cols; x++) {
          const rise = tone(between(s, w, h, x - dx, y - dy)) - tone(between(s, w, h, x + dx, y + dy));
          const [r, g, b, alpha] = at(s, w, h, x, y);
          const lit = ((amount * rise) / (0.25 + Math.abs(rise))) * alpha;
          m.setPx(d + 16 * (y * w + x), [r + lit, g + lit, b + lit, alpha]);
        }
    },
    painterly: (
      d: number,
      s: number,
      w: number,
      h: number,
      left: number,
      top: number,
      cols: number,
      rows: number,
      table: number,
      _scratch: number,
    ): void => {
      const [radius, flow, reach] = [m.f(table), m.f(table + 4), m.f(table + 12)];
      const hardness = 8 + 500 * m.f(table + 8) ** 2;
      const tap = (i: number): number => m.f(table + 16 + 4 * Math.abs(i));
      const zeta = 2 / Math.max(radius, 2);
      const angle = (3 * Math.PI) / 8;
      const eta = (zeta + Math.cos(angle)) / Math.sin(angle) ** 2;
      const steep = new Map<number, Four>();
      const steepAt = (x: number, y: number): Four => {
        const [i, j] = [held(x, w), held(y, h)];
        const known = steep.get(j * w + i);
        if (known) return known;
        const made = steepness(s, w, h, i, j);
        steep.set(j * w + i, made);
        return made;
      };
      for (let y = top; y < top + rows; y++)
        for (let x = left; x < left + cols; x++) {
          const way = [0, 0, 0];
          for (const j of span(-reach, 2 * reach + 1))
            for (const i of span(-reach, 2 * reach + 1))
              steepAt(x + i, y + j).forEach((v, c) => c < 3 && (way[c] = (way[c] as number) + v * tap(i) * tap(j)));
          const [xx, yy, xy] = way as [number, number, number];
          const root = Math.hypot(xx - yy, 2 * xy);
          const sure = root / (xx + yy + 1e-4);
          let [ax, ay] = [(xx + yy + root) / 2 - xx, -xy];
          if (Math.abs(ax) + Math.abs(ay) < 1e-8) [ax, ay] = xx < yy ? [1, 0] : [0, 1];
          const [co, si] = [ax / Math.hypot(ax, ay), ay / Math.hypot(ax, ay)];
          const stretch = 1 + flow * sure;
          const [long, wide] = [radius * Math.min(stretch, 2), radius / stretch];
          const [bx, by] = [Math.ceil(Math.hypot(long * co, wide * si)), Math.ceil(Math.hypot(long * si, wide * co))];
          const means = span(0, 8).map(() => ({ weight: 0, m: zero(), q: zero() }));
          for (const j of span(-by, 2 * by + 1))
            for (const i of span(-bx, 2 * bx + 1)) {
              const [u, v] = [(0.5 * (i * co + j * si)) / long, (0.5 * (j * co - i * si)) / wide];
              if (u * u + v * v > 0.25) continue;
              const colour = at(s, w, h, x + i, y + j);
              sectors(u, v, zeta, eta).forEach((k, n) => {
                const sector = means[n] as (typeof means)[number];
                sector.weight += k;
                colour.forEach((value, c) => {
                  sector.m[c] = (sector.m[c] as number) + value * k;
                  sector.q[c] = (sector.q[c] as number) + value * value * k;
                });
              });
            }
          const out = zero();
          let all = 0;
          for (const { weight, m: sum, q } of means) {
            const by0 = 1 / Math.max(weight, 1e-12);
            const mean = sum.map((v) => v * by0);
            const off = three(mean.map((v, c) => Math.abs((q[c] as number) * by0 - v * v)));
            const k = 1 / (1 + (hardness * off) ** 4);
            all += k;
            mean.forEach((v, c) => (out[c] = (out[c] as number) + v * k));
          }
          m.setPx(
            d + 16 * (y * w + x),
            out.map((v) => v / all),
          );
        }
    },
  };
}
