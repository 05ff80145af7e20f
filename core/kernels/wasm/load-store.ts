/*
 * Pixels in and out of the working forms: RGBA float32, premultiplied, or RGB rows where all are opaque. `n` counts pixels and is at least 1. Stores write
 * what they say.
 */
// @ts-nocheck
import { MAGIC, add, alphaOf, mul, px, put, scramble, splat, straight, withAlpha } from './lanes';

export function copy(d: usize, s: usize, n: i32): void { memory.copy(d, s, <usize>n << 4); }

/** Bytes of opaque pixels to RGB rows. Up to 15 floats past n may be written. */
export function loadRgbRows8(d: usize, s: usize, n: i32): void {
  const k = splat(1.0 / 255), end = d + <usize>(12 * n);
  do {
    const a = px(s), low = i16x8.extend_low_i8x16_u(a), high = i16x8.extend_high_i8x16_u(a);
    put(d, mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(low)), k));
    put(d + 16, mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(low)), k));
    put(d + 32, mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(high)), k));
    put(d + 48, mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(high)), k));
    d += 64; s += 16;
  } while (d < end);
}

/** The same for 16 bits a channel. */
export function loadRgbRows16(d: usize, s: usize, n: i32): void {
  const k = splat(1.0 / 65535), end = d + <usize>(12 * n);
  do {
    const a = px(s);
    put(d, mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(a)), k));
    put(d + 16, mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(a)), k));
    d += 32; s += 16;
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

export function loadRgba16(d: usize, s: usize, n: i32): void {
  const k = splat(1.0 / 65535), one = splat(1), end = d + (<usize>n << 4);
  do {
    const c = mul(f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(s))), k);
    put(d, mul(c, withAlpha(alphaOf(c), one)));
    d += 16; s += 8;
  } while (d < end);
}

/**
 * Pixels after which the noise comes again, both ways: a power of two. There are two tables, of pixels of four bytes and of three; a row of either begins again
 * at its end, for what reaches over it.
 */
const NOISE: i32 = 128, NOISE_STRIDE: i32 = 132, TRIPLES_AT: usize = <usize>(NOISE * NOISE_STRIDE * 4), TRIPLES_STRIDE: i32 = NOISE * 3 + 48;

/** Fills the tables of noise: for each pixel a byte for red, green and blue, and 128 for alpha, which is plain rounding. */
export function sow(d: usize): void {
  for (let y = 0; y < NOISE; y++) {
    const row = d + <usize>(y * NOISE_STRIDE * 4), rgbRows = d + TRIPLES_AT + <usize>(y * TRIPLES_STRIDE);
    let x = 0;
    do {
      const at = v128.and(i32x4.add(i32x4.splat(x), i32x4(0, 1, 2, 3)), i32x4.splat(NOISE - 1));
      const hash = scramble(i32x4.add(i32x4.mul(at, i32x4.splat(<i32>0x85ebca77)), i32x4.splat(y * <i32>0x9e3779b1)));
      put(row + <usize>(4 * x), v128.or(v128.and(hash, i32x4.splat(0xffffff)), i32x4.splat(<i32>0x80000000)));
      x += 4;
    } while (x < NOISE_STRIDE);
    let i = 0;
    do {
      const p = i / 3 % NOISE;
      store<u8>(rgbRows + i, load<u8>(row + <usize>(4 * p + i % 3)));
    } while (++i < TRIPLES_STRIDE);
  }
}

@inline function noiseRow(noise: usize, y: i32): usize { return noise + <usize>((y & (NOISE - 1)) * NOISE_STRIDE * 4); }
@inline function rgbRowsRow(noise: usize, y: i32): usize { return noise + TRIPLES_AT + <usize>((y & (NOISE - 1)) * TRIPLES_STRIDE); }

/** 256 steps of a level, as an integer. What lies far outside is no step any more, but still of the right sign, so that narrowing holds it. */
@inline function fine(v: v128): v128 { return i32x4.sub(add(mul(v, splat(65280)), splat(MAGIC)), i32x4.splat(0x4b400000)); }

@inline function colour(p: usize): v128 {
  const v = px(p);
  return withAlpha(straight(v, alphaOf(v)), v);
}

/** A level from its fine steps and a byte of noise: rounds up as often as the rest is large, and never moves a whole level. */
@inline function levels8(fineSteps: v128, noise: v128): v128 { return i16x8.shr_u(i16x8.add_sat_u(fineSteps, noise), 8); }

/** Sixteen channels as bytes, with the noise at `noise`. */
@inline function bytes16(s: usize, noise: usize): v128 {
  const h = px(noise), low = i16x8.narrow_i32x4_u(fine(px(s)), fine(px(s + 16))), high = i16x8.narrow_i32x4_u(fine(px(s + 32)), fine(px(s + 48)));
  return i8x16.narrow_i16x8_u(levels8(low, i16x8.extend_low_i8x16_u(h)), levels8(high, i16x8.extend_high_i8x16_u(h)));
}

/** The first bytes of a vector, fewer than 16. */
function few(d: usize, v: v128, bytes: i32): void {
  let rest = i64x2.extract_lane(v, 0), i = 0;
  do {
    store<u8>(d + i, <u8>rest);
    rest >>= 8;
    if (++i == 8) rest = i64x2.extract_lane(v, 1);
  } while (i < bytes);
}

/** RGB rows to RGB bytes, dithered by position with tables from `sow`. Reads up to 15 floats past `n`; writes exactly 3n bytes. */
export function storeRgbRows8(d: usize, s: usize, n: i32, x: i32, y: i32, noise: usize): void {
  const row = rgbRowsRow(noise, y), round: usize = 3 * NOISE, past = row + round;
  let at = row + <usize>(3 * (x & (NOISE - 1)));
  if (3 * n < 16) return few(d, bytes16(s, at), 3 * n);
  const last = d + <usize>(3 * n - 16);
  do {
    put(d, bytes16(s, at));
    d += 16; s += 64; at += 16;
    at = at >= past ? at - round : at;
  } while (d <= last);
  const back = d - last;
  at -= back;
  put(last, bytes16(s - 4 * back, at < row ? at + round : at));
}

/** The first four RGB rows of bytes, as opaque pixels. */
@inline function opaqueBytes(v: v128): v128 {
  return v128.or(i8x16.swizzle(v, i8x16(0, 1, 2, -1, 3, 4, 5, -1, 6, 7, 8, -1, 9, 10, 11, -1)), i32x4.splat(<i32>0xff000000));
}

/** Four RGB rows as RGBA bytes, with the noise at `noise`. */
@inline function screen4(s: usize, noise: usize): v128 {
  const h = px(noise), third = fine(px(s + 32)), low = i16x8.narrow_i32x4_u(fine(px(s)), fine(px(s + 16))), high = i16x8.narrow_i32x4_u(third, third);
  const p = i8x16.narrow_i16x8_u(levels8(low, i16x8.extend_low_i8x16_u(h)), levels8(high, i16x8.extend_high_i8x16_u(h)));
  return opaqueBytes(p);
}

/** RGB rows to RGBA bytes for a screen, dithered. */
export function storeScreen(d: usize, s: usize, n: i32, x: i32, y: i32, noise: usize): void {
  const row = rgbRowsRow(noise, y), round: usize = 3 * NOISE, past = row + round, end = d + (<usize>(n & ~3) << 2), many = d + (<usize>(n & ~15) << 2);
  let at = row + <usize>(3 * (x & (NOISE - 1)));
  if (d < many) do {
    const a = bytes16(s, at), b = bytes16(s + 64, at + 16), c = bytes16(s + 128, at + 32);
    put(d, opaqueBytes(a));
    put(d + 16, opaqueBytes(v128.shuffle<i8>(a, b, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27)));
    put(d + 32, opaqueBytes(v128.shuffle<i8>(b, c, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23)));
    put(d + 48, opaqueBytes(v128.shuffle<i8>(c, c, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 0, 1, 2, 3)));
    d += 64; s += 192; at += 48;
    at = at >= past ? at - round : at;
  } while (d < many);
  if (d < end) do {
    put(d, screen4(s, at));
    d += 16; s += 48; at += 12;
    at = at >= past ? at - round : at;
  } while (d < end);
  if (n & 3) few(d, screen4(s, at), (n & 3) << 2);
}

/** Pixels with alpha to straight RGBA bytes, dithered. */
export function storeRgba8(d: usize, s: usize, n: i32, x: i32, y: i32, noise: usize): void {
  const row = noiseRow(noise, y), end = s + (<usize>(n & ~3) << 4);
  if (n >= 4) do {
    put(d, rgba4(s, row, x));
    x += 4; s += 64; d += 16;
  } while (s < end);
  if (n & 3) few(d, rgba4(s, row, x), (n & 3) << 2);
}

/** Four pixels as bytes; `row` is the noise of their row. */
@inline function rgba4(s: usize, row: usize, x: i32): v128 {
  const h = px(row + (<usize>(x & (NOISE - 1)) << 2));
  const low = i16x8.narrow_i32x4_u(fine(colour(s)), fine(colour(s + 16)));
  const high = i16x8.narrow_i32x4_u(fine(colour(s + 32)), fine(colour(s + 48)));
  return i8x16.narrow_i16x8_u(levels8(low, i16x8.extend_low_i8x16_u(h)), levels8(high, i16x8.extend_high_i8x16_u(h)));
}

/** A level of 65535, as an integer; narrowing holds it. */
@inline function level16(v: v128): v128 { return i32x4.sub(add(mul(v, splat(65535)), splat(MAGIC)), i32x4.splat(0x4b400000)); }

@inline function words8(s: usize): v128 { return i16x8.narrow_i32x4_u(level16(px(s)), level16(px(s + 16))); }

/** RGB rows to 16 bits a channel. Reads up to 7 floats past `n`; writes exactly 6n bytes. */
export function storeRgbRows16(d: usize, s: usize, n: i32): void {
  if (n < 3) return few(d, words8(s), 6 * n);
  const last = d + <usize>(6 * n - 16);
  do {
    put(d, words8(s));
    d += 16; s += 32;
  } while (d <= last);
  put(last, words8(s - 2 * (d - last)));
}

export function storeRgba16(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const q = level16(colour(s));
    v128.store64_lane(d, i16x8.narrow_i32x4_u(q, q), 0);
    s += 16; d += 8;
  } while (s < end);
}
