/*
 * Gaussian blur through a pyramid: halve, blur small, grow back with cubic B-splines (P. Burt and E. Adelson 1983;
 * M. Unser, "Splines", 1999). Widths, strides and positions are in pixels; the border pixel goes on for ever.
 *
 * Opaque pictures go through small blurs as triples: red, green and blue of 12 bytes a pixel. A filter that goes down the rows takes a row of them as so
 * many vectors, whatever pixels these belong to.
 */
// @ts-nocheck
import { add, each, held, mul, put, px, splat, sub, withAlpha } from './lanes';

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

/** Whole numbers of eight channels as floats. */
@inline function spill(d: usize, v: v128): void {
  put(d, f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v)));
  put(d + 16, f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(v)));
}

/**
 * One row at half size, `dw` triples, straight from six rows of n pixels of RGB bytes, to which the border pixel is added `left` and `right` times:
 * left + n + right is 2 dw + 4. Sums of bytes are whole numbers, so eight channels are added at a time and nothing is rounded before the row is taken
 * across. `line` is scratch for as many pixels and 16 more. Four bytes past dw may be written.
 */
export function halveBytes(d: usize, a: usize, b: usize, c: usize, e: usize, g: usize, h: usize, n: i32, left: i32, right: i32, dw: i32, line: usize): void {
  const first = line + <usize>(12 * left), end = a + <usize>(3 * n);
  let o = first;
  do {
    spill(o, bytesDown(a, b, c, e, g, h));
    spill(o + 32, bytesDown(a + 8, b + 8, c + 8, e + 8, g + 8, h + 8));
    a += 16; b += 16; c += 16; e += 16; g += 16; h += 16; o += 64;
  } while (a < end);
  extendTriples(first, n, left, right);
  acrossTriples(d, 12, line, dw, 1.0 / 261120);
}

/** (1 3 3 1) down eight bytes of four rows. */
@inline function softBytesDown(a: usize, b: usize, c: usize, e: usize): v128 {
  return i16x8.add(i16x8.add(eight(a), eight(e)), i16x8.mul(i16x8.splat(3), i16x8.add(eight(b), eight(c))));
}

/** As `halveBytes`, by (1 3 3 1)/8 from four rows: left + n + right is 2 dw + 2. */
export function softenBytes(d: usize, a: usize, b: usize, c: usize, e: usize, n: i32, left: i32, right: i32, dw: i32, line: usize): void {
  const first = line + <usize>(12 * left), past = a + <usize>(3 * n);
  let o = first;
  do {
    spill(o, softBytesDown(a, b, c, e));
    spill(o + 32, softBytesDown(a + 8, b + 8, c + 8, e + 8));
    a += 16; b += 16; c += 16; e += 16; o += 64;
  } while (a < past);
  extendTriples(first, n, left, right);
  const one = f32x4.replace_lane(splat(1.0 / 16320), 3, 0), three = f32x4.replace_lane(splat(3.0 / 16320), 3, 0), end = d + <usize>(12 * dw);
  do {
    put(d, add(mul(one, add(px(line), px(line + 36))), mul(three, add(px(line + 12), px(line + 24)))));
    d += 12; line += 24;
  } while (d < end);
}

/** One row at half size from six rows of 2 dw + 4 triples that bring their own rim; dw opaque pixels. `line` is scratch of that length. */
export function halveTriples(d: usize, a: usize, b: usize, c: usize, e: usize, g: usize, h: usize, dw: i32, line: usize): void {
  halveDown(line, a, b, c, e, g, h, vectors(2 * dw + 4));
  acrossTriples(d, 16, line, dw, 1);
}

/** Vectors that hold so many triples. */
@inline function vectors(n: i32): i32 { return (3 * n + 3) >> 2; }

/** One row of (1 5 10 10 5 1) taken across triples and scaled by k; n results, each `step` bytes after the last, that are opaque pixels or triples. */
@inline function acrossTriples(d: usize, step: usize, line: usize, n: i32, k: f32): void {
  const one = f32x4.replace_lane(splat(k), 3, 0), five = f32x4.replace_lane(splat(5 * k), 3, 0), end = d + <usize>n * step;
  do {
    const inner = add(px(line + 24), px(line + 36)), middle = add(px(line + 12), px(line + 48)), outer = add(px(line), px(line + 60));
    put(d, add(f32x4(0, 0, 0, 1), add(mul(outer, one), mul(five, add(middle, add(inner, inner))))));
    d += step; line += 24;
  } while (d < end);
}

/** Opaque pixels to triples; `d` may be `s`. Four bytes past n may be written. */
export function triples(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { put(d, px(s)); d += 12; s += 16; } while (s < end);
}

/** Triples to opaque pixels. */
export function opaque(d: usize, s: usize, n: i32): void {
  const end = d + (<usize>n << 4), one = splat(1);
  do { put(d, withAlpha(px(s), one)); d += 16; s += 12; } while (d < end);
}

/** As `extend`, for triples. Four bytes past the last may be written. */
@inline function extendTriples(d: usize, n: i32, left: i32, right: i32): void {
  const past = d + <usize>(12 * n), begin = px(d), last = px(past - 12);
  // The fourth lane of each falls on the next one's red: they are laid from left to right, and the first one's red again after them.
  for (let i = left; i > 0; i--) put(d - <usize>(12 * i), begin);
  if (left > 0) store<f32>(d, f32x4.extract_lane(begin, 0));
  for (let i = 0; i < right; i++) put(past + <usize>(12 * i), last);
}

/** Repeats the first and the last pixel of n pixels at `d` outwards, `left` and `right` times. */
export function extend(d: usize, n: i32, left: i32, right: i32): void {
  const first = px(d), end = d + (<usize>n << 4), last = px(end - 16);
  for (let i = 1; i <= left; i++) put(d - (<usize>i << 4), first);
  for (let i = 0; i < right; i++) put(end + (<usize>i << 4), last);
}

/** `count` vectors of a symmetric filter across a line that brings its own rim; a pixel has `step` bytes. */
@inline function across(o: usize, line: usize, step: usize, count: i32, radius: i32, taps: usize): void {
  const past = taps + (<usize>radius << 2);
  let at = line + <usize>radius * step;
  for (let x = 0; x < count; x += 4) {
    let k = each(taps), a0 = mul(px(at), k), a1 = mul(px(at + 16), k), a2 = mul(px(at + 32), k), a3 = mul(px(at + 48), k);
    let u = at + step, v = at - step, t = taps + 4;
    do {
      k = each(t);
      a0 = add(a0, mul(k, add(px(u), px(v)))); a1 = add(a1, mul(k, add(px(u + 16), px(v + 16))));
      a2 = add(a2, mul(k, add(px(u + 32), px(v + 32)))); a3 = add(a3, mul(k, add(px(u + 48), px(v + 48))));
      u += step; v -= step; t += 4;
    } while (t <= past);
    put(o, a0);
    if (x + 1 < count) put(o + 16, a1);
    if (x + 2 < count) put(o + 32, a2);
    if (x + 3 < count) put(o + 48, a3);
    o += 64; at += 64;
  }
}

/**
 * Symmetric filter across: `rows` rows of n results, the first at pixel `from` of source rows `sw` wide.
 * `taps` holds radius + 1 floats from the centre out; `line` is scratch for n + 2 radius + 4 pixels.
 */
export function firAcross(d: usize, dStride: i32, s: usize, sStride: i32, sw: i32, from: i32, n: i32, rows: i32, radius: i32, taps: usize, line: usize): void {
  let y = 0;
  do {
    const first = from - radius, last = from + n + radius + 4, left = first < 0 ? -first : 0, right = last > sw ? last - sw : 0;
    const inside = n + 2 * radius + 4 - left - right, at = line + (<usize>left << 4);
    memory.copy(at, s + (<usize>(first + left) << 4), <usize>inside << 4);
    extend(at, inside, left, right);
    across(d, line, 16, n, radius, taps);
    d += <usize>dStride << 4; s += <usize>sStride << 4;
  } while (++y < rows);
}

/** The same for one row of n triples, all of it. `line` is scratch for n + 2 radius + 8 of them. Up to 12 bytes past n may be written. */
export function firTriples(d: usize, s: usize, n: i32, radius: i32, taps: usize, line: usize): void {
  const at = line + <usize>(12 * radius);
  memory.copy(at, s, <usize>(12 * n));
  extendTriples(at, n, radius, radius + 5);
  across(d, line, 12, vectors(n), radius, taps);
}

/** One row of a symmetric filter down, n pixels about `at`, whose neighbour rows lie `stride` bytes apart. */
@inline function firInside(o: usize, at: usize, stride: usize, n: i32, radius: i32, taps: usize): void {
  const past = taps + (<usize>radius << 2);
  let x = 0;
  while (x + 4 <= n) {
    let k = each(taps), a0 = mul(px(at), k), a1 = mul(px(at + 16), k), a2 = mul(px(at + 32), k), a3 = mul(px(at + 48), k);
    let u = at - stride, v = at + stride, t = taps + 4;
    do {
      k = each(t);
      a0 = add(a0, mul(k, add(px(u), px(v)))); a1 = add(a1, mul(k, add(px(u + 16), px(v + 16))));
      a2 = add(a2, mul(k, add(px(u + 32), px(v + 32)))); a3 = add(a3, mul(k, add(px(u + 48), px(v + 48))));
      u -= stride; v += stride; t += 4;
    } while (t <= past);
    put(o, a0); put(o + 16, a1); put(o + 32, a2); put(o + 48, a3);
    x += 4; o += 64; at += 64;
  }
  while (x < n) {
    let a = mul(px(at), each(taps)), u = at - stride, v = at + stride, t = taps + 4;
    do { a = add(a, mul(each(t), add(px(u), px(v)))); u -= stride; v += stride; t += 4; } while (t <= past);
    put(o, a);
    x++; o += 16; at += 16;
  }
}

/** The same where rows are missing above or below: the outermost one stands for them. */
@inline function firBorder(o: usize, s: usize, stride: usize, sh: i32, y: i32, n: i32, radius: i32, taps: usize): void {
  const end = s + (<usize>n << 4);
  do {
    let a = mul(px(s + <usize>held(y, sh) * stride), each(taps)), i = 1;
    do {
      a = add(a, mul(each(taps + (<usize>i << 2)), add(px(s + <usize>held(y - i, sh) * stride), px(s + <usize>held(y + i, sh) * stride))));
    } while (++i <= radius);
    put(o, a);
    s += 16; o += 16;
  } while (s < end);
}

/** Symmetric filter down: `rows` rows of n results, the first at row `from` of a source `sh` rows high. */
export function firDown(d: usize, dStride: i32, s: usize, sStride: i32, sh: i32, from: i32, rows: i32, n: i32, radius: i32, taps: usize): void {
  const stride = <usize>sStride << 4;
  for (let y = from, to = from + rows; y < to; y++) {
    if (y >= radius && y + radius < sh) firInside(d, s + <usize>y * stride, stride, n, radius, taps);
    else firBorder(d, s, stride, sh, y, n, radius, taps);
    d += <usize>dStride << 4;
  }
}

/** Four rows mixed, from addresses a, b, c and e; `count` vectors. Up to one vector more may be written. */
@inline function mixed(d: usize, a: usize, b: usize, c: usize, e: usize, w: usize, count: i32): void {
  const w0 = each(w), w1 = each(w + 4), w2 = each(w + 8), w3 = each(w + 12), end = a + (<usize>count << 4);
  do {
    put(d, add(add(mul(px(a), w0), mul(px(b), w1)), add(mul(px(c), w2), mul(px(e), w3))));
    put(d + 16, add(add(mul(px(a + 16), w0), mul(px(b + 16), w1)), add(mul(px(c + 16), w2), mul(px(e + 16), w3))));
    a += 32; b += 32; c += 32; e += 32; d += 32;
  } while (a < end);
}

/** Rows of the small image mixed for one row of the large one: columns first .. last, from four rows. */
@inline function mixRows(line: usize, s: usize, lw: i32, lh: i32, m: i32, w: usize, first: i32, last: i32): void {
  const stride = <usize>lw << 4, left = held(first, lw), n = held(last, lw) - left + 1, at = s + (<usize>left << 4), inside = line + (<usize>(left - first) << 4);
  mixed(inside, at + <usize>held(m, lh) * stride, at + <usize>held(m + 1, lh) * stride, at + <usize>held(m + 2, lh) * stride, at + <usize>held(m + 3, lh) * stride, w, n);
  extend(inside, n, left - first, last - held(last, lw));
}

/** Value at t of the spline piece with coefficients c0 .. c3. */
@inline function piece(c0: v128, c1: v128, c2: v128, c3: v128, t: v128): v128 {
  return add(c0, mul(t, add(c1, mul(t, add(c2, mul(t, c3))))));
}

/**
 * n pixels of row y, from x, of a small image grown by the whole factor `by` with cubic B-splines.
 * `origin` is where the small image's first pixel lies before the large one's, `weights` four floats for each of `by`
 * phases and then the `by` phases themselves, `line` scratch for n / by + 5 pixels. One pixel past n may be written.
 */
export function grow(d: usize, s: usize, lw: i32, lh: i32, by: i32, origin: i32, weights: usize, x: i32, y: i32, n: i32, line: usize): void {
  const u = x + origin, v = y + origin, first = u / by - 1, last = (u + n) / by + 2;
  mixRows(line, s, lw, lh, v / by - 1, weights + (<usize>(v % by) << 4), first, last);
  const phases = weights + (<usize>by << 4), past = phases + (<usize>by << 2), end = d + (<usize>n << 4);
  let t = phases + (<usize>(u % by) << 2);
  const sixth = splat(1.0 / 6), half = splat(0.5);
  let p0 = px(line), p1 = px(line + 16), p2 = px(line + 32);
  do {
    const p3 = px(line + 48), ends = add(p0, p2);
    const c0 = mul(sixth, add(ends, mul(splat(4), p1))), c1 = mul(half, sub(p2, p0)), c2 = sub(mul(half, ends), p1);
    const c3 = mul(sixth, add(sub(p3, p0), mul(splat(3), sub(p1, p2))));
    const room = <usize>(end - d) >> 2, left = <usize>(past - t), stop = d + ((room < left ? room : left) << 2);
    if (left & 4) { put(d, piece(c0, c1, c2, c3, each(t))); t += 4; d += 16; }
    while (d < stop) {
      put(d, piece(c0, c1, c2, c3, each(t)));
      put(d + 16, piece(c0, c1, c2, c3, each(t + 4)));
      t += 8; d += 32;
    }
    t = phases; line += 16;
    p0 = p1; p1 = p2; p2 = p3;
  } while (d < end);
}

/** As `grow`, for the factor 2, whose two phases mirror each other: a quarter and three quarters of the way. */
export function growTwice(d: usize, s: usize, lw: i32, lh: i32, origin: i32, weights: usize, x: i32, y: i32, n: i32, line: usize): void {
  const u = x + origin, v = y + origin, first = u / 2 - 1, last = (u + n) / 2 + 2;
  mixRows(line, s, lw, lh, v / 2 - 1, weights + (<usize>(v % 2) << 4), first, last);
  between(d, line, u & 1, weights, n);
}

@inline function blended(a: v128, b: v128, c: v128, e: v128, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  return add(add(mul(a, w0), mul(b, w1)), add(mul(c, w2), mul(e, w3)));
}

@inline function twice(d: usize, a: v128, b: v128, c: v128, e: v128, w0: v128, w1: v128, w2: v128, w3: v128): void {
  put(d, blended(a, b, c, e, w0, w1, w2, w3));
  put(d + 16, blended(e, c, b, a, w0, w1, w2, w3));
}

/** n pixels between those of a line: two to each, or the second of the first alone. One more may be written. */
@inline function between(d: usize, line: usize, second: i32, weights: usize, n: i32): void {
  const w0 = each(weights), w1 = each(weights + 4), w2 = each(weights + 8), w3 = each(weights + 12), end = d + (<usize>n << 4);
  let p0 = px(line), p1 = px(line + 16), p2 = px(line + 32), p3 = px(line + 48);
  line += 64;
  if (second) {
    put(d, blended(p3, p2, p1, p0, w0, w1, w2, w3));
    d += 16;
    p0 = p1; p1 = p2; p2 = p3; p3 = px(line); line += 16;
  }
  // Four pixels of the line at a time: none has to change its register.
  const whole = d + ((<usize>(end - d) >> 7) << 7);
  if (d < whole) do {
    twice(d, p0, p1, p2, p3, w0, w1, w2, w3);
    p0 = px(line);
    twice(d + 32, p1, p2, p3, p0, w0, w1, w2, w3);
    p1 = px(line + 16);
    twice(d + 64, p2, p3, p0, p1, w0, w1, w2, w3);
    p2 = px(line + 32);
    twice(d + 96, p3, p0, p1, p2, w0, w1, w2, w3);
    p3 = px(line + 48);
    d += 128; line += 64;
  } while (d < whole);
  while (d < end) {
    twice(d, p0, p1, p2, p3, w0, w1, w2, w3);
    d += 32;
    p0 = p1; p1 = p2; p2 = p3; p3 = px(line); line += 16;
  }
}

/** As `grow`, for the factor 4, whose third and fourth phases mirror the second and the first. Three pixels past n may be written. */
export function growFourfold(d: usize, s: usize, lw: i32, lh: i32, origin: i32, weights: usize, x: i32, y: i32, n: i32, line: usize): void {
  const u = x + origin, v = y + origin, first = u / 4 - 1, last = (u + n) / 4 + 2, end = d + (<usize>n << 4);
  mixRows(line, s, lw, lh, v / 4 - 1, weights + (<usize>(v % 4) << 4), first, last);
  const v0 = each(weights), v1 = each(weights + 4), v2 = each(weights + 8), v3 = each(weights + 12);
  const w0 = each(weights + 16), w1 = each(weights + 20), w2 = each(weights + 24), w3 = each(weights + 28);
  let p0 = px(line), p1 = px(line + 16), p2 = px(line + 32), p3 = px(line + 48), phase = u % 4;
  line += 64;
  if (phase) {
    do {
      const w = weights + (<usize>phase << 4);
      put(d, blended(p0, p1, p2, p3, each(w), each(w + 4), each(w + 8), each(w + 12)));
      d += 16;
    } while (++phase < 4);
    p0 = p1; p1 = p2; p2 = p3; p3 = px(line); line += 16;
  }
  if (d < end) do {
    put(d, blended(p0, p1, p2, p3, v0, v1, v2, v3));
    put(d + 16, blended(p0, p1, p2, p3, w0, w1, w2, w3));
    put(d + 32, blended(p3, p2, p1, p0, w0, w1, w2, w3));
    put(d + 48, blended(p3, p2, p1, p0, v0, v1, v2, v3));
    d += 64;
    p0 = p1; p1 = p2; p2 = p3; p3 = px(line); line += 16;
  } while (d < end);
}
