import { scramble } from './load-store';
import { overColours } from './light';
import { clamp, type Views } from './views';
import { placeAt } from './masks';

const eased = (t: number): number => t * t * (3 - 2 * t);
const corner = (x: number, y: number, seed: number): number =>
  (scramble(Math.imul(x, 0x85ebca77) ^ Math.imul(y, 0x9e3779b1) ^ Math.imul(seed, 0x9e3779b1)) & 0xffff) / 65536;

function noise(u: number, v: number, seed: number): number {
  const [i, j] = [Math.floor(u), Math.floor(v)];
  const [s, t] = [eased(u - i), eased(v - j)];
  const top = corner(i, j, seed) * (1 - s) + corner(i + 1, j, seed) * s;
  const low = corner(i, j + 1, seed) * (1 - s) + corner(i + 1, j + 1, seed) * s;
  return top * (1 - t) + low * t;
}
const ridge = (u: number, v: number, seed: number): number => (1 - Math.abs(2 * noise(u, v, seed) - 1)) ** 3;

function height(u: number, v: number, fibre: number, seed: number, fine: number): number {
  const tooth = noise(u, v, seed) * 0.6 + noise(u * 2.03, v * 2.03, seed + 1) * 0.4 * fine;
  const bend = (noise(u * 0.11, v * 0.11, seed + 2) - 0.5) * 4;
  const bent = (noise(u * 0.13, v * 0.13, seed + 3) - 0.5) * 4;
  const threads = ridge(u * 0.12 + bend, v * 0.9 + bend, seed + 4) + ridge(u * 0.8 + bent, v * 0.14 - bent, seed + 5);
  return tooth * (1 - fibre) + threads * 0.7 * fibre;
}

/** Twins of kernels/wasm/paper.ts. */
export function paper(m: Views) {
  return {
    paper: (d: number, n: number, x: number, y: number, t: number): void => {
      const [fibre = 0, seed = 0, lx = 0, ly = 0, fine = 0] = Array.from({ length: 5 }, (_, i) => m.f(t + 48 + 4 * i));
      for (let i = 0; i < n; i++) {
        const [u, v] = placeAt(m, t, x + i, y);
        const rise = height(u - lx, v - ly, fibre, seed, fine) - height(u + lx, v + ly, fibre, seed, fine);
        const lit = 0.5 + clamp(rise, -0.5, 0.5);
        m.setPx(d + 16 * i, [lit, lit, lit, lit]);
      }
    },
    shaded: (d: number, s: number, b: number, n: number, amount: number): void =>
      overColours(m, d, s, n, (v, i) => {
        const by = 1 + amount * (2 * m.f(b + 16 * i) - 1);
        return [v[0] * by, v[1] * by, v[2] * by];
      }),
  };
}
