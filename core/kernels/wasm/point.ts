/* Work on single pixels, or on triples. `d` may be `s`. Up to three pixels past n may be written. */
// @ts-nocheck
import { MAGIC, TABLE, add, alphaOf, f, luma, mul, put, px, splat, straight, sub, unit, withAlpha } from './lanes';

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

/** The same on triples. */
export function affineTriples(d: usize, s: usize, n: i32, gain: f32, offset: f32): void {
  const g = splat(gain), o = splat(offset), end = s + <usize>(12 * n);
  do {
    put(d, add(mul(px(s), g), o));
    put(d + 16, add(mul(px(s + 16), g), o));
    s += 32; d += 32;
  } while (s < end);
}

/** Where in a table a straight colour in 0..1 stands: byte offsets of the entries, and the way to the next ones. */
@inline function place(t: v128): v128 { return add(sub(t, splat(0.5)), splat(MAGIC)); }

@inline function lookUp(v: v128, table: usize): v128 {
  const t = mul(f32x4.sqrt(unit(v)), splat(TABLE)), m = place(t), way = sub(t, sub(m, splat(MAGIC)));
  const i = i32x4.shl(v128.and(m, i32x4.splat(0x3fffff)), 3);
  const r = v128.load64_zero(table + i32x4.extract_lane(i, 0)), g = v128.load64_zero(table + i32x4.extract_lane(i, 1)), b = v128.load64_zero(table + i32x4.extract_lane(i, 2));
  const rg = v128.shuffle<i32>(r, g, 0, 4, 1, 5), value = v128.shuffle<i32>(rg, b, 0, 1, 4, 6), step = v128.shuffle<i32>(rg, b, 2, 3, 5, 6);
  return add(value, mul(step, way));
}

/** The same tone table for red, green and blue of straight colour; alpha stays. */
export function curve(d: usize, s: usize, n: i32, table: usize): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s);
    put(d, withAlpha(lookUp(v, table), v));
    s += 16; d += 16;
  } while (s < end);
}

/** amounts[i] = k. One float a pixel. */
export function level(amounts: usize, n: i32, k: f32): void {
  const end = amounts + (<usize>n << 2);
  do { store<f32>(amounts, k); amounts += 4; } while (amounts < end);
}

/** Tones of four pixels; premultiplied, where there is alpha. */
@inline function tones(a: v128, b: v128, c: v128, e: v128): v128 {
  const w = f32x4(0.2126, 0.7152, 0.0722, 0);
  a = mul(a, w); b = mul(b, w); c = mul(c, w); e = mul(e, w);
  const ab = add(v128.shuffle<i32>(a, b, 0, 4, 1, 5), v128.shuffle<i32>(a, b, 2, 6, 3, 7));
  const ce = add(v128.shuffle<i32>(c, e, 0, 4, 1, 5), v128.shuffle<i32>(c, e, 2, 6, 3, 7));
  return add(v128.shuffle<i32>(ab, ce, 0, 1, 4, 5), v128.shuffle<i32>(ab, ce, 2, 3, 6, 7));
}

/** The table at four tones. */
@inline function lookUp4(v: v128, table: usize): v128 {
  const t = mul(f32x4.sqrt(unit(v)), splat(TABLE)), m = place(t), way = sub(t, sub(m, splat(MAGIC)));
  const i = i32x4.shl(v128.and(m, i32x4.splat(0x3fffff)), 3);
  const a = v128.load64_zero(table + i32x4.extract_lane(i, 0)), b = v128.load64_zero(table + i32x4.extract_lane(i, 1));
  const c = v128.load64_zero(table + i32x4.extract_lane(i, 2)), e = v128.load64_zero(table + i32x4.extract_lane(i, 3));
  const ab = v128.shuffle<i32>(a, b, 0, 4, 1, 5), ce = v128.shuffle<i32>(c, e, 0, 4, 1, 5);
  return add(v128.shuffle<i32>(ab, ce, 0, 1, 4, 5), mul(v128.shuffle<i32>(ab, ce, 2, 3, 6, 7), way));
}

/** As `curve`, on triples. */
export function curveTriples(d: usize, s: usize, n: i32, table: usize): void {
  const end = s + <usize>(12 * n);
  do {
    put(d, lookUp4(px(s), table));
    s += 16; d += 16;
  } while (s < end);
}

/** amounts[i] *= table at the tone of pixel i, opaque pixels. */
export function gate(amounts: usize, s: usize, n: i32, table: usize): void {
  const end = s + (<usize>n << 4);
  do {
    put(amounts, mul(px(amounts), lookUp4(tones(px(s), px(s + 16), px(s + 32), px(s + 48)), table)));
    s += 64; amounts += 16;
  } while (s < end);
}

/** As `gate`, on the straight colour of pixels with alpha. */
export function gateAlpha(amounts: usize, s: usize, n: i32, table: usize): void {
  const end = s + (<usize>n << 4);
  do {
    const a = px(s), b = px(s + 16), c = px(s + 32), e = px(s + 48);
    const alpha = v128.shuffle<i32>(v128.shuffle<i32>(a, b, 3, 7, 3, 7), v128.shuffle<i32>(c, e, 3, 7, 3, 7), 0, 1, 4, 5);
    put(amounts, mul(px(amounts), lookUp4(straight(tones(a, b, c, e), alpha), table)));
    s += 64; amounts += 16;
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

/** Counts the tones of n pixels into 256 bins of 32-bit integers. Transparent pixels do not count. */
export function tally(bins: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), a = alphaOf(v);
    if (f32x4.extract_lane(v, 3) > 0) {
      const y = min<f32>(max<f32>(luma(straight(v, a)), 0), 1), p = bins + (<usize>(<i32>(y * 255 + 0.5)) << 2);
      store<u32>(p, load<u32>(p) + 1);
    }
    s += 16;
  } while (s < end);
}
