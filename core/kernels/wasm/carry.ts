/*
 * Pixels in and out of the working forms: RGBA float32, premultiplied, or triples where all are opaque. `n` counts pixels and is at least 1. Stores write
 * what they say.
 */
// @ts-nocheck
import { MAGIC, add, alphaOf, mul, px, put, scramble, splat, straight, sub, withAlpha } from './lanes';

export function copy(d: usize, s: usize, n: i32): void { memory.copy(d, s, <usize>n << 4); }

/** Bytes of opaque pixels to triples. Up to 15 floats past n may be written. */
export function loadTriples8(d: usize, s: usize, n: i32): void {
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
export function loadTriples16(d: usize, s: usize, n: i32): void {
  const k = splat(1.0 / 65535), end = d + <usize>(12 * n);
  do {
    const a = px(s);
    put(d, mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(a)), k));
    put(d + 16, mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(a)), k));
    d += 32; s += 16;
  } while (d < end);
}

/** n greys of those that a channel of a file can have, from number `from`, as opaque pixels; number `top` is white. */
export function ramp(d: usize, from: i32, n: i32, top: i32): void {
  const end = d + (<usize>n << 4), k: f32 = 1 / <f32>top;
  do { put(d, f32x4.replace_lane(splat(<f32>from * k), 3, 1)); from++; d += 16; } while (d < end);
}

/** n greys of those whose roots are `top` even steps from black to white, from number `from`, as opaque pixels. */
export function squares(d: usize, from: i32, n: i32, top: i32): void {
  const end = d + (<usize>n << 4), k: f32 = 1 / <f32>top;
  do {
    const root: f32 = <f32>from * k;
    put(d, f32x4.replace_lane(splat(root * root), 3, 1));
    from++; d += 16;
  } while (d < end);
}

/** Entries of a tone table. */
const ENTRIES: i32 = 4096;

/**
 * Three tone tables, one behind another, from what became of the greys of `squares`: of the entries, and of what lies half way between each and the next.
 * Returns by how much the tables err there at most.
 */
export function tables(d: usize, s: usize): f32 {
  let worst = splat(0), i = 0;
  do {
    const v = px(s), step = sub(i < ENTRIES - 1 ? px(s + 32) : v, v);
    store<f32>(d, f32x4.extract_lane(v, 0)); store<f32>(d + 4, f32x4.extract_lane(step, 0));
    store<f32>(d + 8 * ENTRIES, f32x4.extract_lane(v, 1)); store<f32>(d + 8 * ENTRIES + 4, f32x4.extract_lane(step, 1));
    store<f32>(d + 16 * ENTRIES, f32x4.extract_lane(v, 2)); store<f32>(d + 16 * ENTRIES + 4, f32x4.extract_lane(step, 2));
    if (i < ENTRIES - 1) worst = f32x4.max(worst, f32x4.abs(sub(add(v, mul(splat(0.5), step)), px(s + 16))));
    s += 32; d += 8;
  } while (++i < ENTRIES);
  return max<f32>(f32x4.extract_lane(worst, 0), max<f32>(f32x4.extract_lane(worst, 1), f32x4.extract_lane(worst, 2)));
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

/** Four of twelve channels, of which the first is `c`, from their places in a table. */
@inline function four(table: usize, greens: usize, c: i32, i: usize, j: usize, k: usize, l: usize): v128 {
  const first = v128.load32_zero(entry(table, greens, c, i)), second = v128.load32_lane(entry(table, greens, (c + 1) % 3, j), first, 1);
  return v128.load32_lane(entry(table, greens, c, l), v128.load32_lane(entry(table, greens, (c + 2) % 3, k), second, 2), 3);
}

@inline function entry(table: usize, greens: usize, channel: i32, value: usize): usize {
  return channel == 0 ? table + (value << 2) : channel == 1 ? table + greens + (value << 2) : table + 2 * greens + (value << 3);
}

/** RGB bytes to the triples that a table from `apart` makes of them. Up to three past n may be written. */
export function foldTriples8(d: usize, s: usize, n: i32, table: usize): void {
  const end = d + <usize>(12 * n), greens: usize = 1 << 10;
  do {
    put(d, four(table, greens, 0, load<u8>(s), load<u8>(s, 1), load<u8>(s, 2), load<u8>(s, 3)));
    put(d + 16, four(table, greens, 1, load<u8>(s, 4), load<u8>(s, 5), load<u8>(s, 6), load<u8>(s, 7)));
    put(d + 32, four(table, greens, 2, load<u8>(s, 8), load<u8>(s, 9), load<u8>(s, 10), load<u8>(s, 11)));
    d += 48; s += 12;
  } while (d < end);
}

/** The same for 16 bits a channel. */
export function foldTriples16(d: usize, s: usize, n: i32, table: usize): void {
  const end = d + <usize>(12 * n), greens: usize = 1 << 18;
  do {
    put(d, four(table, greens, 0, load<u16>(s), load<u16>(s, 2), load<u16>(s, 4), load<u16>(s, 6)));
    put(d + 16, four(table, greens, 1, load<u16>(s, 8), load<u16>(s, 10), load<u16>(s, 12), load<u16>(s, 14)));
    put(d + 32, four(table, greens, 2, load<u16>(s, 16), load<u16>(s, 18), load<u16>(s, 20), load<u16>(s, 22)));
    d += 48; s += 24;
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
const NOISE: i32 = 128, NOISE_STRIDE: i32 = 132, TRIPLES_AT: usize = <usize>(NOISE * NOISE_STRIDE * 4), TRIPLES_STRIDE: i32 = NOISE * 3 + 16;

/** Fills the tables of noise: for each pixel a byte for red, green and blue, and 128 for alpha, which is plain rounding. */
export function sow(d: usize): void {
  for (let y = 0; y < NOISE; y++) {
    const row = d + <usize>(y * NOISE_STRIDE * 4), triples = d + TRIPLES_AT + <usize>(y * TRIPLES_STRIDE);
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
      store<u8>(triples + i, load<u8>(row + <usize>(4 * p + i % 3)));
    } while (++i < TRIPLES_STRIDE);
  }
}

@inline function noiseRow(noise: usize, y: i32): usize { return noise + <usize>((y & (NOISE - 1)) * NOISE_STRIDE * 4); }
@inline function triplesRow(noise: usize, y: i32): usize { return noise + TRIPLES_AT + <usize>((y & (NOISE - 1)) * TRIPLES_STRIDE); }

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

/** Triples to RGB bytes, dithered by position with tables from `sow`. Reads up to 15 floats past `n`; writes exactly 3n bytes. */
export function storeTriples8(d: usize, s: usize, n: i32, x: i32, y: i32, noise: usize): void {
  const row = triplesRow(noise, y), round: usize = 3 * NOISE, past = row + round;
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

/** Four triples as RGBA bytes, with the noise at `noise`. */
@inline function screen4(s: usize, noise: usize): v128 {
  const h = px(noise), third = fine(px(s + 32)), low = i16x8.narrow_i32x4_u(fine(px(s)), fine(px(s + 16))), high = i16x8.narrow_i32x4_u(third, third);
  const p = i8x16.narrow_i16x8_u(levels8(low, i16x8.extend_low_i8x16_u(h)), levels8(high, i16x8.extend_high_i8x16_u(h)));
  return v128.or(i8x16.swizzle(p, i8x16(0, 1, 2, -1, 3, 4, 5, -1, 6, 7, 8, -1, 9, 10, 11, -1)), i32x4.splat(<i32>0xff000000));
}

/** Triples to RGBA bytes for a screen, dithered. */
export function storeScreen(d: usize, s: usize, n: i32, x: i32, y: i32, noise: usize): void {
  const row = triplesRow(noise, y), round: usize = 3 * NOISE, past = row + round, end = d + (<usize>(n & ~3) << 2);
  let at = row + <usize>(3 * (x & (NOISE - 1)));
  if (n >= 4) do {
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

/** Triples to 16 bits a channel. Reads up to 7 floats past `n`; writes exactly 6n bytes. */
export function storeTriples16(d: usize, s: usize, n: i32): void {
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
