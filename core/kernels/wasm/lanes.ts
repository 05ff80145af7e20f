/*
 * Words for 128-bit lanes. One pixel is one vector: red, green, blue, alpha, as 32-bit floats, premultiplied.
 * Hot loops are written as `do { } while (p < end)`: the compiler behind the engine unrolls loops that are tested at
 * the bottom, and leaves those tested at the top up to 45 % slower. scripts/loops.mjs keeps watch over it.
 */
// @ts-nocheck

@inline export function splat(a: f32): v128 { return f32x4.splat(a); }
@inline export function add(a: v128, b: v128): v128 { return f32x4.add(a, b); }
@inline export function sub(a: v128, b: v128): v128 { return f32x4.sub(a, b); }
@inline export function mul(a: v128, b: v128): v128 { return f32x4.mul(a, b); }
@inline export function div(a: v128, b: v128): v128 { return f32x4.div(a, b); }
@inline export function least(a: v128, b: v128): v128 { return f32x4.pmin(a, b); }
@inline export function most(a: v128, b: v128): v128 { return f32x4.pmax(a, b); }
@inline export function abs(a: v128): v128 { return f32x4.abs(a); }
@inline export function px(p: usize): v128 { return v128.load(p); }
@inline export function put(p: usize, v: v128): void { v128.store(p, v); }
@inline export function f(p: usize): f32 { return load<f32>(p); }
@inline export function each(p: usize): v128 { return v128.load32_splat(p); }

/** Clamps to 0..1; what is no number becomes 0. */
@inline export function unit(a: v128): v128 { return least(most(splat(0), a), splat(1)); }

/** From 0 to 1 without a kink at either end (Hermite), for values held in 0..1. */
@inline export function smooth(t: v128): v128 { return mul(mul(t, t), sub(splat(3), add(t, t))); }

/** One lane in all four. */
@inline export function nth(w: v128, i: i32): v128 {
  if (i == 0) return v128.shuffle<i32>(w, w, 0, 0, 0, 0);
  if (i == 1) return v128.shuffle<i32>(w, w, 1, 1, 1, 1);
  if (i == 2) return v128.shuffle<i32>(w, w, 2, 2, 2, 2);
  return v128.shuffle<i32>(w, w, 3, 3, 3, 3);
}

/** The alpha of a pixel in all four lanes. */
@inline export function alphaOf(a: v128): v128 { return v128.shuffle<i32>(a, a, 3, 3, 3, 3); }

/** Colour lanes of `a`, alpha lane of `b`. */
@inline export function withAlpha(a: v128, b: v128): v128 { return v128.shuffle<i32>(a, b, 0, 1, 2, 7); }

/** Straight colour of a premultiplied pixel; transparent pixels give black. The alpha lane becomes 1 or 0. */
@inline export function straight(a: v128, alpha: v128): v128 {
  return v128.and(div(a, most(alpha, splat(1e-20))), f32x4.gt(alpha, splat(0)));
}

/** Index held inside 0..n-1: the border pixel goes on for ever. */
@inline export function held(i: i32, n: i32): i32 { return i < 0 ? 0 : i >= n ? n - 1 : i; }

/** 2^23 + 2^22: adding it to a small float leaves the rounded integer in the low mantissa bits. */
export const MAGIC: f32 = 12582912;

/** Rec. 709 luma of encoded values (ITU-R BT.709-6, item 3.2), of a straight or opaque pixel. */
@inline export function luma(v: v128): f32 {
  return <f32>0.2126 * f32x4.extract_lane(v, 0) + <f32>0.7152 * f32x4.extract_lane(v, 1) + <f32>0.0722 * f32x4.extract_lane(v, 2);
}

/** What red, green and blue of a pixel come to by weights. */
@inline export function toneOf(v: v128, red: f32, green: f32, blue: f32): f32 {
  return red * f32x4.extract_lane(v, 0) + green * f32x4.extract_lane(v, 1) + blue * f32x4.extract_lane(v, 2);
}

/** Entries of a tone table less one. A table is pairs (value, step to the next value), addressed by the root of the input. */
export const TABLE: f32 = 4095;

/** A 32-bit mixing function with low bias (C. Wellons, "Prospecting for Hash Functions", 2018, public domain). */
@inline export function scramble(h: v128): v128 {
  h = v128.xor(h, i32x4.shr_u(h, 16));
  h = i32x4.mul(h, i32x4.splat(0x7feb352d));
  h = v128.xor(h, i32x4.shr_u(h, 15));
  h = i32x4.mul(h, i32x4.splat(<i32>0x846ca68b));
  return v128.xor(h, i32x4.shr_u(h, 16));
}
