/*
 * Growing a small image back with cubic B-splines (M. Unser, "Splines", 1999). Widths and positions are in pixels; the border pixel goes on for ever.
 */
// @ts-nocheck
import { add, each, held, mul, px, put, splat, sub } from './lanes';
import { extend } from './triples';

@inline function blended(a: v128, b: v128, c: v128, e: v128, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  return add(add(mul(a, w0), mul(b, w1)), add(mul(c, w2), mul(e, w3)));
}

/** Rows of the small image mixed for one row of the large one: columns first .. last, from four rows. Up to one pixel more may be written. */
@inline function mixRows(line: usize, s: usize, lw: i32, lh: i32, m: i32, w: usize, first: i32, last: i32): void {
  const stride = <usize>lw << 4, w0 = each(w), w1 = each(w + 4), w2 = each(w + 8), w3 = each(w + 12);
  const left = held(first, lw), n = held(last, lw) - left + 1, at = s + (<usize>left << 4), inside = line + (<usize>(left - first) << 4);
  let a = at + <usize>held(m, lh) * stride, b = at + <usize>held(m + 1, lh) * stride, c = at + <usize>held(m + 2, lh) * stride, e = at + <usize>held(m + 3, lh) * stride;
  const end = a + (<usize>n << 4);
  let d = inside;
  do {
    put(d, blended(px(a), px(b), px(c), px(e), w0, w1, w2, w3));
    put(d + 16, blended(px(a + 16), px(b + 16), px(c + 16), px(e + 16), w0, w1, w2, w3));
    a += 32; b += 32; c += 32; e += 32; d += 32;
  } while (a < end);
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

@inline function twice(d: usize, a: v128, b: v128, c: v128, e: v128, w0: v128, w1: v128, w2: v128, w3: v128): void {
  put(d, blended(a, b, c, e, w0, w1, w2, w3));
  put(d + 16, blended(e, c, b, a, w0, w1, w2, w3));
}

/** As `grow`, for the factor 2, whose two phases mirror each other: a quarter and three quarters of the way. */
export function growTwice(d: usize, s: usize, lw: i32, lh: i32, origin: i32, weights: usize, x: i32, y: i32, n: i32, line: usize): void {
  const u = x + origin, v = y + origin, first = u / 2 - 1, last = (u + n) / 2 + 2;
  mixRows(line, s, lw, lh, v / 2 - 1, weights + (<usize>(v % 2) << 4), first, last);
  const w0 = each(weights), w1 = each(weights + 4), w2 = each(weights + 8), w3 = each(weights + 12), end = d + (<usize>n << 4);
  let p0 = px(line), p1 = px(line + 16), p2 = px(line + 32), p3 = px(line + 48);
  line += 64;
  if (u & 1) {
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
