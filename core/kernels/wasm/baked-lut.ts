/*
 * Tables for single channels, made of what steps do to greys: what each value of a file becomes; and tone tables, of all between black and white. `n` counts
 * pixels and is at least 1.
 */
// @ts-nocheck
import { add, mul, px, put, splat, sub } from './lanes';

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

/** RGB bytes to the RGB rows that a table from `apart` makes of them. Up to three past n may be written. */
export function bakeRgbRows8(d: usize, s: usize, n: i32, table: usize): void {
  const end = d + <usize>(12 * n), greens: usize = 1 << 10;
  do {
    put(d, four(table, greens, 0, load<u8>(s), load<u8>(s, 1), load<u8>(s, 2), load<u8>(s, 3)));
    put(d + 16, four(table, greens, 1, load<u8>(s, 4), load<u8>(s, 5), load<u8>(s, 6), load<u8>(s, 7)));
    put(d + 32, four(table, greens, 2, load<u8>(s, 8), load<u8>(s, 9), load<u8>(s, 10), load<u8>(s, 11)));
    d += 48; s += 12;
  } while (d < end);
}

/**
 * What each two bytes that lie side by side become, from a table of 256 entries by `apart`: 65536 times two floats, the first byte of a pair counting up first.
 * Returns false, and makes nothing, where the table has another entry for one channel than for another.
 */
export function pairs(d: usize, table: usize): bool {
  let at = table, past = table + 1024, others = table + 2048;
  do {
    const v = px(at), blues = v128.shuffle<i32>(px(others), px(others + 16), 0, 2, 4, 6);
    if (v128.any_true(v128.or(v128.xor(v, px(at + 1024)), v128.xor(v, blues)))) return false;
    at += 16; others += 32;
  } while (at < past);
  let second = table;
  do {
    const high = v128.load32_splat(second);
    let first = table;
    do {
      const low = px(first);
      put(d, v128.shuffle<i32>(low, high, 0, 4, 1, 4));
      put(d + 16, v128.shuffle<i32>(low, high, 2, 4, 3, 4));
      first += 16; d += 32;
    } while (first < past);
    second += 4;
  } while (second < past);
  return true;
}

@inline function pair(table: usize, at: usize): usize { return table + (<usize>load<u16>(at) << 3); }

/** Channels of two pairs of bytes. */
@inline function twoPairs(table: usize, s: usize): v128 { return v128.load64_lane(pair(table, s + 2), v128.load64_zero(pair(table, s)), 1); }

/** RGB bytes to the RGB rows that a table from `pairs` makes of them, two channels at a time. Up to three past n may be written. */
export function bakePairs8(d: usize, s: usize, n: i32, table: usize): void {
  const end = d + <usize>(12 * n);
  do {
    put(d, twoPairs(table, s));
    put(d + 16, twoPairs(table, s + 4));
    put(d + 32, twoPairs(table, s + 8));
    d += 48; s += 12;
  } while (d < end);
}

/** How far a parabola may be from a table: less than what a float rounds off three times. */
const CLOSE: f64 = 4e-7;

/** One channel's parabola through three entries of its table, `stride` bytes apart, as three floats 12 bytes apart at `d`. Returns false where another entry is off it. */
function bendOf(d: usize, table: usize, stride: usize, greys: i32): bool {
  const middle = greys >> 1, top = greys - 1, a: f64 = load<f32>(table);
  const half = (<f64>load<f32>(table + <usize>middle * stride) - a) / middle;
  const c = ((<f64>load<f32>(table + <usize>top * stride) - a) / top - half) / (top - middle), b = half - c * middle;
  store<f32>(d, <f32>a); store<f32>(d + 12, <f32>b); store<f32>(d + 24, <f32>c);
  let i = 0, at = table, worst: f64 = 0;
  do {
    worst = max<f64>(worst, abs<f64>(a + i * (b + i * c) - <f64>load<f32>(at)));
    at += stride;
  } while (++i < greys);
  return worst <= CLOSE;
}

/**
 * The parabolas a + v (b + v c) of value v that the tables of red, green and blue from `apart` are, as the coefficients of four pixels: nine vectors. Returns
 * false where a table is none.
 */
export function bends(d: usize, table: usize, greys: i32): bool {
  const greens = <usize>greys << 2;
  if (!bendOf(d, table, 4, greys) || !bendOf(d + 4, table + greens, 4, greys) || !bendOf(d + 8, table + 2 * greens, 8, greys)) return false;
  let i = 2;
  do {
    const rgb = px(d + <usize>(12 * i)), at = d + <usize>(48 * i);
    put(at + 32, v128.shuffle<i32>(rgb, rgb, 2, 0, 1, 2));
    put(at + 16, v128.shuffle<i32>(rgb, rgb, 1, 2, 0, 1));
    put(at, v128.shuffle<i32>(rgb, rgb, 0, 1, 2, 0));
  } while (--i >= 0);
  return true;
}

/** Four bytes from number i as floats. */
@inline function floats4(v: v128, i: i8): v128 {
  return f32x4.convert_i32x4_s(i8x16.swizzle(v, i8x16(i, -1, -1, -1, i + 1, -1, -1, -1, i + 2, -1, -1, -1, i + 3, -1, -1, -1)));
}

/** a + v (b + v c). */
@inline function bent(v: v128, a: v128, b: v128, c: v128): v128 { return add(a, mul(v, add(b, mul(v, c)))); }

/** RGB bytes to the RGB rows that coefficients from `bends` make of them. Up to three past n may be written, and four bytes past n read. */
export function bakeBends8(d: usize, s: usize, n: i32, bends: usize): void {
  const end = d + <usize>(12 * n), a = px(bends), b = px(bends + 48), c = px(bends + 96);
  const a1 = px(bends + 16), b1 = px(bends + 64), c1 = px(bends + 112), a2 = px(bends + 32), b2 = px(bends + 80), c2 = px(bends + 128);
  do {
    const v = px(s);
    put(d, bent(floats4(v, 0), a, b, c));
    put(d + 16, bent(floats4(v, 4), a1, b1, c1));
    put(d + 32, bent(floats4(v, 8), a2, b2, c2));
    d += 48; s += 12;
  } while (d < end);
}

/** The same for 16 bits a channel. */
export function bakeBends16(d: usize, s: usize, n: i32, bends: usize): void {
  const end = d + <usize>(12 * n), a = px(bends), b = px(bends + 48), c = px(bends + 96);
  const a1 = px(bends + 16), b1 = px(bends + 64), c1 = px(bends + 112), a2 = px(bends + 32), b2 = px(bends + 80), c2 = px(bends + 128);
  do {
    const v = px(s), w = v128.load64_zero(s + 16);
    put(d, bent(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v)), a, b, c));
    put(d + 16, bent(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(v)), a1, b1, c1));
    put(d + 32, bent(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(w)), a2, b2, c2));
    d += 48; s += 24;
  } while (d < end);
}

/** As `bakeRgbRows8`, for 16 bits a channel. */
export function bakeRgbRows16(d: usize, s: usize, n: i32, table: usize): void {
  const end = d + <usize>(12 * n), greens: usize = 1 << 18;
  do {
    put(d, four(table, greens, 0, load<u16>(s), load<u16>(s, 2), load<u16>(s, 4), load<u16>(s, 6)));
    put(d + 16, four(table, greens, 1, load<u16>(s, 8), load<u16>(s, 10), load<u16>(s, 12), load<u16>(s, 14)));
    put(d + 32, four(table, greens, 2, load<u16>(s, 16), load<u16>(s, 18), load<u16>(s, 20), load<u16>(s, 22)));
    d += 48; s += 24;
  } while (d < end);
}
