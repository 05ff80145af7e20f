/* Work on single pixels, or on RGB rows. `d` may be `s`. Up to three pixels past n may be written. */
// @ts-nocheck
import { add, alphaOf, f, least, most, mul, px, put, splat, straight, sub, toneOf, withAlpha } from './lanes';
import { ONE, lookUp, lookUp4 } from './tables';

/** colour * gain + offset, on straight colour; alpha stays. */
export function affine(d: usize, s: usize, n: i32, gain: f32, offset: f32): void {
  const g = f32x4.replace_lane(splat(gain), 3, 1), o = f32x4.replace_lane(splat(offset), 3, 0), end = s + (<usize>n << 4);
  do {
    const a = px(s), b = px(s + 16);
    put(d, add(mul(a, g), mul(alphaOf(a), o)));
    put(d + 16, add(mul(b, g), mul(alphaOf(b), o)));
    s += 32; d += 32;
  } while (s < end);
}

/** The same on RGB rows. */
export function affineRgbRows(d: usize, s: usize, n: i32, gain: f32, offset: f32): void {
  const g = splat(gain), o = splat(offset), end = s + <usize>(12 * n);
  do {
    put(d, add(mul(px(s), g), o));
    put(d + 16, add(mul(px(s + 16), g), o));
    s += 32; d += 32;
  } while (s < end);
}

/** How far outside 0..1 a value may be by rounding alone. */
const HAIR: f32 = 1e-6;

/** Whether all lanes between the least and the greatest are in 0..1, but for rounding. */
@inline function within(low: v128, high: v128): bool {
  return !v128.any_true(v128.or(f32x4.lt(low, splat(-HAIR)), f32x4.gt(high, splat(1 + HAIR))));
}

@inline function curvesBy(d: usize, s: usize, n: i32, table: usize, apart: usize): bool {
  const end = s + (<usize>n << 4);
  let low = splat(0), high = splat(0);
  do {
    const v = px(s), w = px(s + 16);
    put(d, withAlpha(lookUp(v, table, apart, d), v));
    put(d + 16, withAlpha(lookUp(w, table, apart, d + 16), w));
    low = least(low, least(v, w)); high = most(high, most(v, w));
    s += 32; d += 32;
  } while (s < end);
  return within(low, high);
}

/**
 * The same tone table for red, green and blue of straight colour; alpha stays. Returns whether all values were in 0..1, but for rounding; those that may
 * be written past n count too.
 */
export function curve(d: usize, s: usize, n: i32, table: usize): bool { return curvesBy(d, s, n, table, 0); }

/** As `curve`, with three tone tables one behind another: for red, green and blue. */
export function curves(d: usize, s: usize, n: i32, table: usize): bool { return curvesBy(d, s, n, table, ONE); }

/** As `curve`, on RGB rows. */
export function curveRgbRows(d: usize, s: usize, n: i32, table: usize): bool {
  const end = s + <usize>(12 * n);
  let low = splat(0), high = splat(0);
  do {
    const v = px(s);
    put(d, lookUp4(v, table, d));
    low = least(low, v); high = most(high, v);
    s += 16; d += 16;
  } while (s < end);
  return within(low, high);
}

/** For each of n vectors' lanes: of `a` where that of `s` is in 0..1, but for rounding, and of `b` elsewhere. */
export function choose(d: usize, s: usize, a: usize, b: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), inside = v128.and(f32x4.ge(v, splat(-HAIR)), f32x4.le(v, splat(1 + HAIR)));
    put(d, v128.bitselect(px(a), px(b), inside));
    s += 16; a += 16; b += 16; d += 16;
  } while (s < end);
}

/** coverage[i] = k. One float a pixel. */
export function level(coverage: usize, n: i32, k: f32): void {
  const end = coverage + (<usize>n << 2);
  do { store<f32>(coverage, k); coverage += 4; } while (coverage < end);
}

/** Tones of four pixels, by what red, green and blue weigh; premultiplied, where there is alpha. */
@inline function tones(a: v128, b: v128, c: v128, e: v128, w: v128): v128 {
  a = mul(a, w); b = mul(b, w); c = mul(c, w); e = mul(e, w);
  const ab = add(v128.shuffle<i32>(a, b, 0, 4, 1, 5), v128.shuffle<i32>(a, b, 2, 6, 3, 7));
  const ce = add(v128.shuffle<i32>(c, e, 0, 4, 1, 5), v128.shuffle<i32>(c, e, 2, 6, 3, 7));
  return add(v128.shuffle<i32>(ab, ce, 0, 1, 4, 5), v128.shuffle<i32>(ab, ce, 2, 3, 6, 7));
}

/** coverage[i] *= table at the tone of pixel i, by what its red, green and blue weigh; opaque pixels. */
export function gate(coverage: usize, s: usize, n: i32, table: usize, red: f32, green: f32, blue: f32): void {
  const end = s + (<usize>n << 4), w = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(splat(0), 0, red), 1, green), 2, blue);
  do {
    const k = px(coverage);
    put(coverage, mul(k, lookUp4(tones(px(s), px(s + 16), px(s + 32), px(s + 48), w), table, coverage)));
    s += 64; coverage += 16;
  } while (s < end);
}

/** As `gate`, on the straight colour of pixels with alpha. */
export function gateAlpha(coverage: usize, s: usize, n: i32, table: usize, red: f32, green: f32, blue: f32): void {
  const end = s + (<usize>n << 4), w = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(splat(0), 0, red), 1, green), 2, blue);
  do {
    const a = px(s), b = px(s + 16), c = px(s + 32), e = px(s + 48);
    const alpha = v128.shuffle<i32>(v128.shuffle<i32>(a, b, 3, 7, 3, 7), v128.shuffle<i32>(c, e, 3, 7, 3, 7), 0, 1, 4, 5);
    const k = px(coverage);
    put(coverage, mul(k, lookUp4(straight(tones(a, b, c, e, w), alpha), table, coverage)));
    s += 64; coverage += 16;
  } while (s < end);
}

/** d = a + (b - a) * t, all four lanes. */
export function fade(d: usize, a: usize, b: usize, n: i32, t: f32): void {
  const k = splat(t), end = a + (<usize>n << 4);
  do {
    const v = px(a), w = px(a + 16);
    put(d, add(v, mul(sub(px(b), v), k)));
    put(d + 16, add(w, mul(sub(px(b + 16), w), k)));
    a += 32; b += 32; d += 32;
  } while (a < end);
}

/** Counts the tones of n pixels, by what red, green and blue weigh, into 256 bins of 32-bit integers. Transparent pixels do not count. */
export function histogram(bins: usize, s: usize, n: i32, red: f32, green: f32, blue: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), a = alphaOf(v);
    if (f32x4.extract_lane(v, 3) > 0) {
      const y = min<f32>(max<f32>(toneOf(straight(v, a), red, green, blue), 0), 1), p = bins + (<usize>(<i32>(y * 255 + 0.5)) << 2);
      store<u32>(p, load<u32>(p) + 1);
    }
    s += 16;
  } while (s < end);
}
