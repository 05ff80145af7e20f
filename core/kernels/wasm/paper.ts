/* Paper: tooth and fibres as heights, lit from one side. */
// @ts-nocheck
import { add, f, mul, px, put, splat, withAlpha } from './lanes';

@inline function hash(h: u32): u32 {
  h ^= h >> 16; h = <u32>(<i32>h * <i32>0x7feb352d); h ^= h >> 15; h = <u32>(<i32>h * <i32>0x846ca68b);
  return h ^ (h >> 16);
}
@inline function corner(x: i32, y: i32, seed: u32): f32 {
  return <f32>(hash(<u32>(x * <i32>0x85ebca77) ^ <u32>(y * <i32>0x9e3779b1) ^ (seed * 2654435761)) & 0xffff) * <f32>(1.0 / 65536);
}
@inline function eased(t: f32): f32 { return t * t * (<f32>3 - <f32>2 * t); }

/** Values 0..1 at the corners of a lattice, smooth between (K. Perlin's value noise). */
@inline function noise(u: f32, v: f32, seed: u32): f32 {
  const fx = floor<f32>(u), fy = floor<f32>(v), i = <i32>fx, j = <i32>fy, s = eased(u - fx), t = eased(v - fy);
  const a = corner(i, j, seed), b = corner(i, j + 1, seed), top: f32 = a + (corner(i + 1, j, seed) - a) * s, low: f32 = b + (corner(i + 1, j + 1, seed) - b) * s;
  return top + (low - top) * t;
}
/** A ridge where a noise passes its middle: a fibre. */
@inline function ridge(u: f32, v: f32, seed: u32): f32 { const n: f32 = <f32>1 - abs<f32>(<f32>2 * noise(u, v, seed) - <f32>1); return n * n * n; }

/** Height of the paper at a place of the film, in cells; `fine` 0..1 how much of the finest grain can be seen. */
@inline function height(u: f32, v: f32, fibre: f32, seed: u32, fine: f32): f32 {
  const tooth: f32 = noise(u, v, seed) * <f32>0.6 + noise(u * <f32>2.03, v * <f32>2.03, seed + 1) * <f32>0.4 * fine;
  const bend: f32 = (noise(u * <f32>0.11, v * <f32>0.11, seed + 2) - <f32>0.5) * <f32>4, bent: f32 = (noise(u * <f32>0.13, v * <f32>0.13, seed + 3) - <f32>0.5) * <f32>4;
  const threads: f32 = ridge(u * <f32>0.12 + bend, v * <f32>0.9 + bend, seed + 4) + ridge(u * <f32>0.8 + bent, v * <f32>0.14 - bent, seed + 5);
  return tooth * (<f32>1 - fibre) + threads * <f32>0.7 * fibre;
}

/**
 * Light and shade of paper, in coverage about a half: after the map (from whole pixels to the film, in cells) the share of fibres, a seed, the direction of the light across
 * and down, and how much of the finest grain can be seen.
 */
export function paper(d: usize, n: i32, x: i32, y: i32, t: usize): void {
  const end = d + (<usize>n << 4), p = t + 48, fibre = f(p), seed = <u32>f(p + 4), lx = f(p + 8), ly = f(p + 12), fine = f(p + 16), yy = <f32>y;
  let xx = <f32>x;
  do {
    const w: f32 = <f32>1 / (f(t + 24) * xx + f(t + 28) * yy + f(t + 32)), u: f32 = (f(t) * xx + f(t + 4) * yy + f(t + 8)) * w, v: f32 = (f(t + 12) * xx + f(t + 16) * yy + f(t + 20)) * w;
    const rise: f32 = height(u - lx, v - ly, fibre, seed, fine) - height(u + lx, v + ly, fibre, seed, fine);
    put(d, splat(<f32>0.5 + min<f32>(max<f32>(rise, <f32>-0.5), <f32>0.5)));
    xx += 1; d += 16;
  } while (d < end);
}

/** Colour in the light and shade of coverage about a half. Straight colour. */
export function shaded(d: usize, s: usize, b: usize, n: i32, amount: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), by: f32 = <f32>1 + amount * (<f32>2 * f(b) - <f32>1);
    put(d, withAlpha(mul(v, splat(by)), v));
    s += 16; b += 16; d += 16;
  } while (s < end);
}
