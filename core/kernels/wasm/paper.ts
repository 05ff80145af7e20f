/* Paper: tooth and fibres as heights, lit from one side. */
// @ts-nocheck
import { abs, add, div, f, least, most, mul, nth, px, put, scramble, smooth, splat, sub, withAlpha } from './lanes';

/** Values 0..1 at four corners of a lattice; `across` and `down` are its numbers times the hash's own. */
@inline function corner(across: v128, down: v128, seed: u32): v128 {
  const h = scramble(v128.xor(v128.xor(across, down), i32x4.splat(<i32>(seed * 2654435761))));
  return mul(f32x4.convert_i32x4_s(v128.and(h, i32x4.splat(0xffff))), splat(1.0 / 65536));
}

/** Values 0..1 at the corners of a lattice, smooth between (K. Perlin's value noise), at four places. */
@inline function noise(u: v128, v: v128, seed: u32): v128 {
  const fx = f32x4.floor(u), fy = f32x4.floor(v), s = smooth(sub(u, fx)), t = smooth(sub(v, fy));
  const i = i32x4.mul(i32x4.trunc_sat_f32x4_s(fx), i32x4.splat(<i32>0x85ebca77)), j = i32x4.mul(i32x4.trunc_sat_f32x4_s(fy), i32x4.splat(<i32>0x9e3779b1));
  const right = i32x4.add(i, i32x4.splat(<i32>0x85ebca77)), under = i32x4.add(j, i32x4.splat(<i32>0x9e3779b1));
  const a = corner(i, j, seed), b = corner(i, under, seed), top = add(a, mul(sub(corner(right, j, seed), a), s)), low = add(b, mul(sub(corner(right, under, seed), b), s));
  return add(top, mul(sub(low, top), t));
}
/** A ridge where a noise passes its middle: a fibre. */
@inline function ridge(u: v128, v: v128, seed: u32): v128 {
  const n = noise(u, v, seed), k = sub(splat(1), abs(sub(add(n, n), splat(1))));
  return mul(mul(k, k), k);
}
@inline function times(v: v128, by: f32): v128 { return mul(v, splat(by)); }

/** Height of the paper at places of the film, in cells; `fine` 0..1 how much of the finest grain can be seen. */
@inline function height(u: v128, v: v128, fibre: f32, seed: u32, fine: f32): v128 {
  const tooth = add(times(noise(u, v, seed), 0.6), times(noise(times(u, 2.03), times(v, 2.03), seed + 1), <f32>0.4 * fine));
  if (fibre == 0) return tooth;
  const half = splat(0.5), bend = times(sub(noise(times(u, 0.11), times(v, 0.11), seed + 2), half), 4), bent = times(sub(noise(times(u, 0.13), times(v, 0.13), seed + 3), half), 4);
  const threads = add(ridge(add(times(u, 0.12), bend), add(times(v, 0.9), bend), seed + 4), ridge(add(times(u, 0.8), bent), sub(times(v, 0.14), bent), seed + 5));
  return add(times(tooth, <f32>1 - fibre), times(threads, <f32>0.7 * fibre));
}

/**
 * Light and shade of paper, in coverage about a half: after the map (from whole pixels to the film, in cells) the share of fibres, a seed, the direction of the light across
 * and down, and how much of the finest grain can be seen. Four pixels at a time: up to three past n may be written.
 */
export function paper(d: usize, n: i32, x: i32, y: i32, t: usize): void {
  const end = d + (<usize>n << 4), p = t + 48, fibre = f(p), seed = <u32>f(p + 4), lx = splat(f(p + 8)), ly = splat(f(p + 12)), fine = f(p + 16), yy: f32 = <f32>y;
  let xx = add(splat(<f32>x), f32x4(0, 1, 2, 3));
  do {
    const w = div(splat(1), add(times(xx, f(t + 24)), splat(f(t + 28) * yy + f(t + 32))));
    const u = mul(add(times(xx, f(t)), splat(f(t + 4) * yy + f(t + 8))), w), v = mul(add(times(xx, f(t + 12)), splat(f(t + 16) * yy + f(t + 20))), w);
    const rise = sub(height(sub(u, lx), sub(v, ly), fibre, seed, fine), height(add(u, lx), add(v, ly), fibre, seed, fine));
    const lit = add(splat(0.5), least(most(rise, splat(-0.5)), splat(0.5)));
    put(d, nth(lit, 0)); put(d + 16, nth(lit, 1)); put(d + 32, nth(lit, 2)); put(d + 48, nth(lit, 3));
    xx = add(xx, splat(4)); d += 64;
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
