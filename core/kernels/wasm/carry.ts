/*
 * Pixels in and out of the working form: RGBA float32, premultiplied. `n` counts pixels and is at least 1. Loads may write up to
 * three pixels past n; stores write what they say and may read three pixels past n.
 */
// @ts-nocheck
import { MAGIC, add, alphaOf, mul, least, most, px, put, scramble, splat, straight, withAlpha } from './lanes';

export function copy(d: usize, s: usize, n: i32): void { memory.copy(d, s, <usize>n << 4); }

/** For each of four pixels, where its bytes go: one to each lane of colour, and nothing to the rest. */
const SPREAD: usize = memory.data<u8>([
  0, 255, 255, 255, 1, 255, 255, 255, 2, 255, 255, 255, 255, 255, 255, 255,
  3, 255, 255, 255, 4, 255, 255, 255, 5, 255, 255, 255, 255, 255, 255, 255,
  6, 255, 255, 255, 7, 255, 255, 255, 8, 255, 255, 255, 255, 255, 255, 255,
  9, 255, 255, 255, 10, 255, 255, 255, 11, 255, 255, 255, 255, 255, 255, 255,
], 16);

/** Three bytes of `a` as colour, with alpha 1. */
@inline function opaque8(a: v128, spread: v128): v128 {
  return add(mul(f32x4.convert_i32x4_s(i8x16.swizzle(a, spread)), f32x4(1.0 / 255, 1.0 / 255, 1.0 / 255, 0)), f32x4(0, 0, 0, 1));
}

export function loadRgb8(d: usize, s: usize, n: i32): void {
  const end = d + (<usize>n << 4), first = px(SPREAD), second = px(SPREAD + 16), third = px(SPREAD + 32), fourth = px(SPREAD + 48);
  do {
    const a = px(s);
    put(d, opaque8(a, first));
    put(d + 16, opaque8(a, second));
    put(d + 32, opaque8(a, third));
    put(d + 48, opaque8(a, fourth));
    d += 64; s += 12;
  } while (d < end);
}

/** n greys of those that a channel of a file can have, from number `from`, as opaque pixels; number `top` is white. */
export function ramp(d: usize, from: i32, n: i32, top: i32): void {
  const end = d + (<usize>n << 4), k: f32 = 1 / <f32>top;
  do { put(d, f32x4.replace_lane(splat(<f32>from * k), 3, 1)); from++; d += 16; } while (d < end);
}

/** What became of n greys of a ramp, at their places in a table of so many `greys`: all reds, all greens, all pairs of blue and alpha. */
export function apart(d: usize, s: usize, from: i32, n: i32, greys: i32): void {
  const end = s + (<usize>n << 4), greens = <usize>greys << 2;
  let at = d + (<usize>from << 2), pairs = d + 2 * greens + (<usize>from << 3);
  do {
    const v = px(s);
    v128.store32_lane(at, v, 0);
    v128.store32_lane(at + greens, v, 1);
    v128.store64_lane(pairs, v, 1);
    s += 16; at += 4; pairs += 8;
  } while (s < end);
}

@inline function folded(r: usize, g: usize, b: usize, table: usize, greens: usize): v128 {
  const red = v128.load32_zero(table + (r << 2)), rg = v128.load32_lane(table + greens + (g << 2), red, 1);
  return v128.shuffle<i64>(rg, v128.load64_zero(table + 2 * greens + (b << 3)), 0, 2);
}

/** RGB bytes to what a table from `apart` makes of them. */
export function loadFolded(d: usize, s: usize, n: i32, table: usize): void {
  const end = d + (<usize>n << 4);
  do {
    put(d, folded(load<u8>(s), load<u8>(s, 1), load<u8>(s, 2), table, 1 << 10));
    put(d + 16, folded(load<u8>(s, 3), load<u8>(s, 4), load<u8>(s, 5), table, 1 << 10));
    d += 32; s += 6;
  } while (d < end);
}

/** The same for 16 bits a channel. */
export function loadFoldedDeep(d: usize, s: usize, n: i32, table: usize): void {
  const end = d + (<usize>n << 4);
  do {
    put(d, folded(load<u16>(s), load<u16>(s, 2), load<u16>(s, 4), table, 1 << 18));
    put(d + 16, folded(load<u16>(s, 6), load<u16>(s, 8), load<u16>(s, 10), table, 1 << 18));
    d += 32; s += 12;
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

/** Pixels after which the noise comes again, both ways: a power of two. Each row of the table begins again at its end, for four pixels that reach over it. */
const NOISE: i32 = 128, NOISE_STRIDE: i32 = 132;

/** Fills a table of noise: for each pixel a byte for red, green and blue, and 128 for alpha, which is plain rounding. */
export function sow(d: usize): void {
  for (let y = 0; y < NOISE; y++) {
    let x = 0;
    do {
      const at = v128.and(i32x4.add(i32x4.splat(x), i32x4(0, 1, 2, 3)), i32x4.splat(NOISE - 1));
      const hash = scramble(i32x4.add(i32x4.mul(at, i32x4.splat(<i32>0x85ebca77)), i32x4.splat(y * <i32>0x9e3779b1)));
      put(d, v128.or(v128.and(hash, i32x4.splat(0xffffff)), i32x4.splat(<i32>0x80000000)));
      d += 16; x += 4;
    } while (x < NOISE_STRIDE);
  }
}

@inline function noiseRow(noise: usize, y: i32): usize { return noise + (<usize>((y & (NOISE - 1)) * NOISE_STRIDE) << 2); }

/** 256 steps of a level, as an integer. What lies far outside is no step any more, but still of the right sign, so that narrowing holds it. */
@inline function fine(v: v128): v128 { return i32x4.sub(add(mul(v, splat(65280)), splat(MAGIC)), i32x4.splat(0x4b400000)); }

@inline function colour(p: usize, opaque: bool): v128 {
  const v = px(p);
  if (opaque) return v;
  return withAlpha(straight(v, alphaOf(v)), v);
}

/** A level from its fine steps and a byte of noise: rounds up as often as the rest is large, and never moves a whole level. */
@inline function levels8(fineSteps: v128, noise: v128): v128 { return i16x8.shr_u(i16x8.add_sat_u(fineSteps, noise), 8); }

/** Four pixels as bytes; `row` is the noise of their row. */
@inline function bytes4(s: usize, row: usize, x: i32, opaque: bool): v128 {
  const h = px(row + (<usize>(x & (NOISE - 1)) << 2));
  const low = i16x8.narrow_i32x4_u(fine(colour(s, opaque)), fine(colour(s + 16, opaque)));
  const high = i16x8.narrow_i32x4_u(fine(colour(s + 32, opaque)), fine(colour(s + 48, opaque)));
  return i8x16.narrow_i16x8_u(levels8(low, i16x8.extend_low_i8x16_u(h)), levels8(high, i16x8.extend_high_i8x16_u(h)));
}

/** Opaque pixels to RGB bytes, dithered by position with a table from `sow`. Reads up to 3 pixels past `n`; writes exactly 3n bytes. */
export function storeRgb8(d: usize, s: usize, n: i32, x: i32, y: i32, noise: usize): void {
  const row = noiseRow(noise, y), end = s + (<usize>(n & ~3) << 4);
  if (n >= 4) do {
    const p = bytes4(s, row, x, true), q = v128.shuffle<i8>(p, p, 0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14, 3, 3, 3, 3);
    v128.store64_lane(d, q, 0);
    v128.store32_lane(d + 8, q, 2);
    x += 4; s += 64; d += 12;
  } while (s < end);
  n &= 3;
  if (n == 0) return;
  const p = bytes4(s, row, x, true);
  store<u8>(d, i8x16.extract_lane_u(p, 0)); store<u8>(d + 1, i8x16.extract_lane_u(p, 1)); store<u8>(d + 2, i8x16.extract_lane_u(p, 2));
  if (n < 2) return;
  store<u8>(d + 3, i8x16.extract_lane_u(p, 4)); store<u8>(d + 4, i8x16.extract_lane_u(p, 5)); store<u8>(d + 5, i8x16.extract_lane_u(p, 6));
  if (n < 3) return;
  store<u8>(d + 6, i8x16.extract_lane_u(p, 8)); store<u8>(d + 7, i8x16.extract_lane_u(p, 9)); store<u8>(d + 8, i8x16.extract_lane_u(p, 10));
}

@inline function storeBytes4(d: usize, s: usize, n: i32, x: i32, y: i32, noise: usize, opaque: bool): void {
  const row = noiseRow(noise, y), end = s + (<usize>(n & ~3) << 4);
  if (n >= 4) do {
    put(d, bytes4(s, row, x, opaque));
    x += 4; s += 64; d += 16;
  } while (s < end);
  n &= 3;
  if (n == 0) return;
  const p = bytes4(s, row, x, opaque);
  v128.store32_lane(d, p, 0);
  if (n > 1) v128.store32_lane(d + 4, p, 1);
  if (n > 2) v128.store32_lane(d + 8, p, 2);
}

/** Opaque pixels to RGBA bytes for a screen, dithered. */
export function storeScreen(d: usize, s: usize, n: i32, x: i32, y: i32, noise: usize): void { storeBytes4(d, s, n, x, y, noise, true); }

/** Pixels with alpha to straight RGBA bytes, dithered. */
export function storeRgba8(d: usize, s: usize, n: i32, x: i32, y: i32, noise: usize): void { storeBytes4(d, s, n, x, y, noise, false); }

@inline function level16(v: v128): v128 {
  return i32x4.trunc_sat_f32x4_u(add(least(most(mul(v, splat(65535)), splat(0)), splat(65535)), splat(0.5)));
}

export function storeRgb16(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const q = level16(px(s)), w = i16x8.narrow_i32x4_u(q, q);
    v128.store32_lane(d, w, 0);
    v128.store16_lane(d + 4, w, 2);
    s += 16; d += 6;
  } while (s < end);
}

export function storeRgba16(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const q = level16(colour(s, false)), w = i16x8.narrow_i32x4_u(q, q);
    v128.store64_lane(d, w, 0);
    s += 16; d += 8;
  } while (s < end);
}
