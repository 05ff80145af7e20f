/*
 * Pixels in and out of the working form: RGBA float32, premultiplied. `n` counts pixels and is at least 1. Loads may write up to
 * three pixels past n; stores write what they say and may read three pixels past n.
 */
// @ts-nocheck
import { MAGIC, add, alphaOf, mul, least, most, px, put, scramble, splat, straight, sub, withAlpha } from './lanes';

export function copy(d: usize, s: usize, n: i32): void { memory.copy(d, s, <usize>n << 4); }

/** Byte 15 is nought: picking it from one vector clears a byte at the cost of one instruction. Three bytes in three lanes as colour, with alpha 1. */
@inline function opaque8(v: v128): v128 {
  return f32x4.replace_lane(mul(f32x4.convert_i32x4_s(v), splat(1.0 / 255)), 3, 1);
}

export function loadRgb8(d: usize, s: usize, n: i32): void {
  const end = d + (<usize>n << 4);
  do {
    const a = v128.and(px(s), i32x4(-1, -1, -1, 0));
    put(d, opaque8(v128.shuffle<i8>(a, a, 0, 15, 15, 15, 1, 15, 15, 15, 2, 15, 15, 15, 15, 15, 15, 15)));
    put(d + 16, opaque8(v128.shuffle<i8>(a, a, 3, 15, 15, 15, 4, 15, 15, 15, 5, 15, 15, 15, 15, 15, 15, 15)));
    put(d + 32, opaque8(v128.shuffle<i8>(a, a, 6, 15, 15, 15, 7, 15, 15, 15, 8, 15, 15, 15, 15, 15, 15, 15)));
    put(d + 48, opaque8(v128.shuffle<i8>(a, a, 9, 15, 15, 15, 10, 15, 15, 15, 11, 15, 15, 15, 15, 15, 15, 15)));
    d += 64; s += 12;
  } while (d < end);
}

export function loadRgba8(d: usize, s: usize, n: i32): void {
  const k = splat(1.0 / 255), one = splat(1), end = d + (<usize>n << 4);
  do {
    const a = v128.load32_zero(s);
    const c = mul(f32x4.convert_i32x4_s(v128.shuffle<i8>(a, a, 0, 4, 4, 4, 1, 4, 4, 4, 2, 4, 4, 4, 3, 4, 4, 4)), k);
    put(d, mul(c, withAlpha(alphaOf(c), one)));
    d += 16; s += 4;
  } while (d < end);
}

export function loadRgb16(d: usize, s: usize, n: i32): void {
  const k = splat(1.0 / 65535), one = splat(1), end = d + (<usize>n << 4);
  do {
    const c = f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(s)));
    put(d, withAlpha(mul(c, k), one));
    d += 16; s += 6;
  } while (d < end);
}

export function loadRgba16(d: usize, s: usize, n: i32): void {
  const k = splat(1.0 / 65535), one = splat(1), end = d + (<usize>n << 4);
  do {
    const c = mul(f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(s))), k);
    put(d, mul(c, withAlpha(alphaOf(c), one)));
    d += 16; s += 8;
  } while (d < end);
}

/** Four hashes, for the pixels x .. x+3 of row y. */
@inline function spray(x: v128, y: i32): v128 {
  return scramble(i32x4.add(i32x4.mul(x, i32x4.splat(<i32>0x85ebca77)), i32x4.splat(y * <i32>0x9e3779b1)));
}

/** 256 steps of a level, as an integer; far enough beyond 0..255 levels is held. */
@inline function fine(v: v128): v128 {
  const held = least(most(mul(v, splat(65280)), splat(-65280)), splat(130560));
  return i32x4.sub(add(held, splat(MAGIC)), i32x4.splat(0x4b400000));
}

/** A level from its fine steps and a byte of noise: rounds up as often as the rest is large, and never moves a whole level. */
@inline function level8(v: v128, noise: v128): v128 { return i32x4.shr_s(i32x4.add(fine(v), noise), 8); }

@inline function colour(p: usize, opaque: bool): v128 {
  const v = px(p);
  if (opaque) return v;
  return withAlpha(straight(v, alphaOf(v)), v);
}

/** Four pixels as bytes; `h` holds four bytes of noise for each, of which alpha takes plain rounding. */
@inline function bytes4(s: usize, h: v128, opaque: bool): v128 {
  h = v128.or(v128.and(h, i32x4.splat(0xffffff)), i32x4.splat(<i32>0x80000000));
  const low = i16x8.extend_low_i8x16_u(h), high = i16x8.extend_high_i8x16_u(h);
  const a = level8(colour(s, opaque), i32x4.extend_low_i16x8_u(low)), b = level8(colour(s + 16, opaque), i32x4.extend_high_i16x8_u(low));
  const c = level8(colour(s + 32, opaque), i32x4.extend_low_i16x8_u(high)), e = level8(colour(s + 48, opaque), i32x4.extend_high_i16x8_u(high));
  return i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(a, b), i16x8.narrow_i32x4_s(c, e));
}

/** Opaque pixels to RGB bytes, dithered by position. Reads up to 3 pixels past `n`; writes exactly 3n bytes. */
export function storeRgb8(d: usize, s: usize, n: i32, x: i32, y: i32): void {
  let at = i32x4.add(i32x4.splat(x), i32x4(0, 1, 2, 3));
  const four = i32x4.splat(4);
  while (n >= 4) {
    const p = bytes4(s, spray(at, y), true), q = v128.shuffle<i8>(p, p, 0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14, 3, 3, 3, 3);
    v128.store64_lane(d, q, 0);
    v128.store32_lane(d + 8, q, 2);
    at = i32x4.add(at, four); s += 64; d += 12; n -= 4;
  }
  if (n <= 0) return;
  const p = bytes4(s, spray(at, y), true);
  store<u8>(d, i8x16.extract_lane_u(p, 0)); store<u8>(d + 1, i8x16.extract_lane_u(p, 1)); store<u8>(d + 2, i8x16.extract_lane_u(p, 2));
  if (n < 2) return;
  store<u8>(d + 3, i8x16.extract_lane_u(p, 4)); store<u8>(d + 4, i8x16.extract_lane_u(p, 5)); store<u8>(d + 5, i8x16.extract_lane_u(p, 6));
  if (n < 3) return;
  store<u8>(d + 6, i8x16.extract_lane_u(p, 8)); store<u8>(d + 7, i8x16.extract_lane_u(p, 9)); store<u8>(d + 8, i8x16.extract_lane_u(p, 10));
}

@inline function storeBytes4(d: usize, s: usize, n: i32, x: i32, y: i32, opaque: bool): void {
  let at = i32x4.add(i32x4.splat(x), i32x4(0, 1, 2, 3));
  const four = i32x4.splat(4);
  while (n >= 4) {
    put(d, bytes4(s, spray(at, y), opaque));
    at = i32x4.add(at, four); s += 64; d += 16; n -= 4;
  }
  if (n <= 0) return;
  const p = bytes4(s, spray(at, y), opaque);
  v128.store32_lane(d, p, 0);
  if (n > 1) v128.store32_lane(d + 4, p, 1);
  if (n > 2) v128.store32_lane(d + 8, p, 2);
}

/** Opaque pixels to RGBA bytes for a screen, dithered. */
export function storeScreen(d: usize, s: usize, n: i32, x: i32, y: i32): void { storeBytes4(d, s, n, x, y, true); }

/** Pixels with alpha to straight RGBA bytes, dithered. */
export function storeRgba8(d: usize, s: usize, n: i32, x: i32, y: i32): void { storeBytes4(d, s, n, x, y, false); }

@inline function level16(v: v128): v128 {
  return i32x4.trunc_sat_f32x4_u(add(least(most(mul(v, splat(65535)), splat(0)), splat(65535)), splat(0.5)));
}

export function storeRgb16(d: usize, s: usize, n: i32, x: i32, y: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const q = level16(px(s)), w = i16x8.narrow_i32x4_u(q, q);
    v128.store32_lane(d, w, 0);
    v128.store16_lane(d + 4, w, 2);
    s += 16; d += 6;
  } while (s < end);
}

export function storeRgba16(d: usize, s: usize, n: i32, x: i32, y: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const q = level16(colour(s, false)), w = i16x8.narrow_i32x4_u(q, q);
    v128.store64_lane(d, w, 0);
    s += 16; d += 8;
  } while (s < end);
}
