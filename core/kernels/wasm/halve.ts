/*
 * Halving: (1 5 10 10 5 1)/32 both ways, or (1 3 3 1)/8 (P. Burt and E. Adelson 1983). Widths, strides and positions are in pixels; the border pixel goes on
 * for ever.
 */
// @ts-nocheck
import { add, held, mul, px, put, splat } from './lanes';
import { extend, extendRgbRows, putRgb, vectors } from './rgb-rows';

/** One row of (1 5 10 10 5 1) taken across, from a line that brings its own rim; n results. */
@inline function halveAcross(d: usize, line: usize, n: i32): void {
  const five = splat(5), ten = splat(10), end = d + (<usize>n << 4);
  do {
    const outer = add(px(line), px(line + 80)), middle = add(px(line + 16), px(line + 64)), inner = add(px(line + 32), px(line + 48));
    put(d, add(outer, add(mul(five, middle), mul(ten, inner))));
    d += 16; line += 32;
  } while (d < end);
}

@inline function down(a: usize, b: usize, c: usize, e: usize, g: usize, h: usize): v128 {
  const outer = add(px(a), px(h)), middle = add(px(b), px(g)), inner = add(px(c), px(e));
  return add(mul(splat(1.0 / 1024), outer), mul(splat(5.0 / 1024), add(middle, add(inner, inner))));
}

/** One row of (1 3 3 1) taken across, from a line that brings its own rim; n results. */
@inline function softenAcross(d: usize, line: usize, n: i32): void {
  const three = splat(3), end = d + (<usize>n << 4);
  do {
    put(d, add(add(px(line), px(line + 48)), mul(three, add(px(line + 16), px(line + 32)))));
    d += 16; line += 32;
  } while (d < end);
}

@inline function softenedDown(a: usize, b: usize, c: usize, e: usize): v128 {
  return add(mul(splat(1.0 / 64), add(px(a), px(e))), mul(splat(3.0 / 64), add(px(b), px(c))));
}

/** One row at half size by (1 3 3 1)/8, from four rows of 2 dw + 2 pixels that bring their own rim. `line` is scratch of that length. */
export function softenRow(d: usize, a: usize, b: usize, c: usize, e: usize, dw: i32, line: usize): void {
  const end = line + (<usize>(2 * dw + 2) << 4);
  let o = line;
  do {
    put(o, softenedDown(a, b, c, e));
    put(o + 16, softenedDown(a + 16, b + 16, c + 16, e + 16));
    put(o + 32, softenedDown(a + 32, b + 32, c + 32, e + 32));
    put(o + 48, softenedDown(a + 48, b + 48, c + 48, e + 48));
    a += 64; b += 64; c += 64; e += 64; o += 64;
  } while (o < end);
  softenAcross(d, line, dw);
}

/** One row of (1 5 10 10 5 1)/1024 taken down, n pixels: six rows, a to h. Up to three pixels past n may be written. */
@inline function halveDown(d: usize, a: usize, b: usize, c: usize, e: usize, g: usize, h: usize, n: i32): void {
  const end = d + (<usize>n << 4);
  do {
    put(d, down(a, b, c, e, g, h));
    put(d + 16, down(a + 16, b + 16, c + 16, e + 16, g + 16, h + 16));
    put(d + 32, down(a + 32, b + 32, c + 32, e + 32, g + 32, h + 32));
    put(d + 48, down(a + 48, b + 48, c + 48, e + 48, g + 48, h + 48));
    a += 64; b += 64; c += 64; e += 64; g += 64; h += 64; d += 64;
  } while (d < end);
}

/** Rows j0 .. j1-1 of the image at half size: taps 2j-6 .. 2j-1 both ways. `line` is scratch for w + 16 pixels. */
export function halve(d: usize, s: usize, w: i32, h: i32, dw: i32, j0: i32, j1: i32, line: usize): void {
  const stride = <usize>w << 4, row = line + 96, right = 2 * dw + 4 - 6 - w;
  for (let j = j0; j < j1; j++) {
    const k = 2 * j - 6;
    halveDown(row, s + <usize>held(k, h) * stride, s + <usize>held(k + 1, h) * stride, s + <usize>held(k + 2, h) * stride,
      s + <usize>held(k + 3, h) * stride, s + <usize>held(k + 4, h) * stride, s + <usize>held(k + 5, h) * stride, w);
    extend(row, w, 6, right);
    halveAcross(d + (<usize>j * dw << 4), line, dw);
  }
}

/** The same for RGB rows, in rows of whole vectors. */
export function halveRgbRowsImage(d: usize, s: usize, w: i32, h: i32, dw: i32, j0: i32, j1: i32, line: usize): void {
  const stride = <usize>vectors(w) << 4, dStride = <usize>vectors(dw) << 4, row = line + 72, right = 2 * dw + 4 - 6 - w;
  for (let j = j0; j < j1; j++) {
    const k = 2 * j - 6;
    halveDown(row, s + <usize>held(k, h) * stride, s + <usize>held(k + 1, h) * stride, s + <usize>held(k + 2, h) * stride,
      s + <usize>held(k + 3, h) * stride, s + <usize>held(k + 4, h) * stride, s + <usize>held(k + 5, h) * stride, vectors(w));
    extendRgbRows(row, w, 6, right);
    acrossRgbRows(d + <usize>j * dStride, line, dw);
  }
}

/** One row at half size from six rows of 2 dw + 4 pixels that bring their own rim. `line` is scratch of that length. */
export function halveRow(d: usize, a: usize, b: usize, c: usize, e: usize, g: usize, h: usize, dw: i32, line: usize): void {
  halveDown(line, a, b, c, e, g, h, 2 * dw + 4);
  halveAcross(d, line, dw);
}

/** Eight bytes as whole numbers. */
@inline function eight(p: usize): v128 { return v128.load8x8_u(p); }

/** (1 5 10 10 5 1) down eight bytes of six rows. */
@inline function bytesDown(a: usize, b: usize, c: usize, e: usize, g: usize, h: usize): v128 {
  const inner = i16x8.add(eight(c), eight(e));
  return i16x8.add(i16x8.add(eight(a), eight(h)), i16x8.mul(i16x8.splat(5), i16x8.add(i16x8.add(eight(b), eight(g)), i16x8.add(inner, inner))));
}

/**
 * Words of two pixels that lie side by side, from RGB rows of words: red and red, green and green, blue and blue. A product of these with two weights each, added
 * in pairs, is what both give to a pixel of half the size.
 */
@inline function together(line: usize): v128 { return i8x16.swizzle(px(line), i8x16(0, 1, 6, 7, 2, 3, 8, 9, 4, 5, 10, 11, 6, 7, 12, 13)); }
@inline function weighed(pair: v128, first: i16, second: i16): v128 {
  return i32x4.dot_i16x8_s(pair, i16x8(first, second, first, second, first, second, first, second));
}
@inline function scaled(sums: v128, k: v128): v128 { return mul(f32x4.convert_i32x4_s(sums), k); }

/** Repeats the first and the last RGB pixel of words of n at `d` outwards. Two bytes past the last may be written. */
@inline function extendWords(d: usize, n: i32, left: i32, right: i32): void {
  const past = d + <usize>(6 * n), begin = v128.load64_zero(d), last = v128.load64_zero(past - 6);
  // The fourth word of each falls on the next one's red: they are laid from left to right, and the first one's red again after them.
  for (let i = left; i > 0; i--) v128.store64_lane(d - <usize>(6 * i), begin, 0);
  if (left > 0) store<i16>(d, i16x8.extract_lane_s(begin, 0));
  for (let i = 0; i < right; i++) v128.store64_lane(past + <usize>(6 * i), last, 0);
}

/**
 * One row at half size, `dw` RGB rows, straight from six rows of n pixels of RGB bytes, to which the border pixel is added `left` and `right` times:
 * left + n + right is 2 dw + 4. Sums of bytes are whole numbers of 16, then of 32 bits: nothing is rounded before the end. `line` is scratch for as many
 * RGB rows and 16 more. Four bytes past dw may be written.
 */
export function halveBytes(d: usize, a: usize, b: usize, c: usize, e: usize, g: usize, h: usize, n: i32, left: i32, right: i32, dw: i32, line: usize): void {
  const first = line + <usize>(6 * left), past = a + <usize>(3 * n), end = d + <usize>(12 * dw), k = splat(1.0 / 261120);
  let o = first;
  do {
    put(o, bytesDown(a, b, c, e, g, h));
    put(o + 16, bytesDown(a + 8, b + 8, c + 8, e + 8, g + 8, h + 8));
    a += 16; b += 16; c += 16; e += 16; g += 16; h += 16; o += 32;
  } while (a < past);
  extendWords(first, n, left, right);
  let p = together(line), q = together(line + 12), begun = i32x4.add(weighed(p, 1, 5), weighed(q, 10, 10)), next = weighed(q, 1, 5);
  line += 24;
  do {
    p = together(line);
    put(d, scaled(i32x4.add(begun, weighed(p, 5, 1)), k));
    begun = i32x4.add(next, weighed(p, 10, 10));
    next = weighed(p, 1, 5);
    d += 12; line += 12;
  } while (d < end);
}

/** (1 3 3 1) down eight bytes of four rows. */
@inline function softBytesDown(a: usize, b: usize, c: usize, e: usize): v128 {
  return i16x8.add(i16x8.add(eight(a), eight(e)), i16x8.mul(i16x8.splat(3), i16x8.add(eight(b), eight(c))));
}

/** As `halveBytes`, by (1 3 3 1)/8 from four rows: left + n + right is 2 dw + 2. */
export function softenBytes(d: usize, a: usize, b: usize, c: usize, e: usize, n: i32, left: i32, right: i32, dw: i32, line: usize): void {
  const first = line + <usize>(6 * left), past = a + <usize>(3 * n), end = d + <usize>(12 * dw), k = splat(1.0 / 16320);
  let o = first;
  do {
    put(o, softBytesDown(a, b, c, e));
    put(o + 16, softBytesDown(a + 8, b + 8, c + 8, e + 8));
    a += 16; b += 16; c += 16; e += 16; o += 32;
  } while (a < past);
  extendWords(first, n, left, right);
  let begun = weighed(together(line), 1, 3);
  line += 12;
  do {
    const p = together(line);
    put(d, scaled(i32x4.add(begun, weighed(p, 3, 1)), k));
    begun = weighed(p, 1, 3);
    d += 12; line += 12;
  } while (d < end);
}

/** Words of two rows, side by side: the lower four of each, and the upper four. */
@inline function lower(a: v128, b: v128): v128 { return v128.shuffle<i16>(a, b, 0, 8, 1, 9, 2, 10, 3, 11); }
@inline function upper(a: v128, b: v128): v128 { return v128.shuffle<i16>(a, b, 4, 12, 5, 13, 6, 14, 7, 15); }

/** Sums of (1 3 3 1) over values, times b, and over their squares, times c: of four words of the outer two rows, and of the inner two. */
@inline function bentSums(outer: v128, inner: v128, b: v128, c: v128): v128 {
  const three = i16x8.mul(inner, i16x8.splat(3));
  const squares = i32x4.add(i32x4.dot_i16x8_s(outer, outer), i32x4.dot_i16x8_s(inner, three));
  const values = i32x4.add(i32x4.dot_i16x8_s(outer, i16x8.splat(1)), i32x4.dot_i16x8_s(three, i16x8.splat(1)));
  return add(mul(f32x4.convert_i32x4_s(values), b), mul(f32x4.convert_i32x4_s(squares), c));
}

/** The same of eight bytes of four rows, written at `o`. */
@inline function bentDown(o: usize, a: usize, b: usize, c: usize, e: usize, b0: v128, c0: v128, b1: v128, c1: v128): void {
  const p = eight(a), q = eight(b), r = eight(c), s = eight(e);
  put(o, bentSums(lower(p, s), lower(q, r), b0, c0));
  put(o + 16, bentSums(upper(p, s), upper(q, r), b1, c1));
}

/**
 * As `softenBytes`, of what bytes become along parabolas with coefficients from `bends`. What a filter makes of a + v (b + v c) is what it makes of values and
 * of their squares, which are whole numbers: the parabola is gone along last. `line` is scratch for 8 RGB rows more.
 */
export function softenBends(d: usize, a: usize, b: usize, c: usize, e: usize, n: i32, left: i32, right: i32, dw: i32, line: usize, bends: usize): void {
  const first = line + <usize>(12 * left), past = a + <usize>(3 * n), last = d + <usize>(12 * (dw - 1)), k = splat(1.0 / 64), begin = px(bends);
  const b0 = mul(k, px(bends + 48)), b1 = mul(k, px(bends + 64)), b2 = mul(k, px(bends + 80));
  const c0 = mul(k, px(bends + 96)), c1 = mul(k, px(bends + 112)), c2 = mul(k, px(bends + 128));
  let o = first;
  do {
    bentDown(o, a, b, c, e, b0, c0, b1, c1);
    bentDown(o + 32, a + 8, b + 8, c + 8, e + 8, b2, c2, b0, c0);
    bentDown(o + 64, a + 16, b + 16, c + 16, e + 16, b1, c1, b2, c2);
    a += 24; b += 24; c += 24; e += 24; o += 96;
  } while (a < past);
  extendRgbRows(first, n, left, right);
  if (d < last) do { put(d, add(begin, soft(line))); d += 12; line += 24; } while (d < last);
  putRgb(d, add(begin, soft(line)));
}

/** One row at half size by (1 3 3 1)/8, dw RGB rows, from four rows of 2 dw + 2 that bring their own rim. `line` is scratch of that length. */
export function softenRgbRows(d: usize, a: usize, b: usize, c: usize, e: usize, dw: i32, line: usize): void {
  const end = line + (<usize>vectors(2 * dw + 2) << 4);
  let o = line;
  do {
    put(o, softenedDown(a, b, c, e));
    put(o + 16, softenedDown(a + 16, b + 16, c + 16, e + 16));
    a += 32; b += 32; c += 32; e += 32; o += 32;
  } while (o < end);
  softenAcrossRgbRows(d, line, dw);
}

/** (1 3 3 1) across four RGB rows of a line. */
@inline function soft(line: usize): v128 { return add(add(px(line), px(line + 36)), mul(splat(3), add(px(line + 12), px(line + 24)))); }

/** One row of it. */
@inline function softenAcrossRgbRows(d: usize, line: usize, n: i32): void {
  const last = d + <usize>(12 * (n - 1));
  if (d < last) do { put(d, soft(line)); d += 12; line += 24; } while (d < last);
  putRgb(d, soft(line));
}

/** One row at half size from six rows of 2 dw + 4 RGB rows that bring their own rim. `line` is scratch of that length. */
export function halveRgbRows(d: usize, a: usize, b: usize, c: usize, e: usize, g: usize, h: usize, dw: i32, line: usize): void {
  halveDown(line, a, b, c, e, g, h, vectors(2 * dw + 4));
  acrossRgbRows(d, line, dw);
}

/** (1 5 10 10 5 1) across six RGB rows of a line. */
@inline function firm(line: usize): v128 {
  const inner = add(px(line + 24), px(line + 36)), middle = add(px(line + 12), px(line + 48)), outer = add(px(line), px(line + 60));
  return add(outer, mul(splat(5), add(middle, add(inner, inner))));
}

/** One row of it. */
@inline function acrossRgbRows(d: usize, line: usize, n: i32): void {
  const last = d + <usize>(12 * (n - 1));
  if (d < last) do { put(d, firm(line)); d += 12; line += 24; } while (d < last);
  putRgb(d, firm(line));
}
