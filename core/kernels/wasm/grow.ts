/*
 * Growing a small image back with cubic B-splines (M. Unser, "Splines", 1999). Widths and positions are in pixels.
 */
// @ts-nocheck
import { add, each, held, mul, px, put, splat, sub, withAlpha } from './lanes';
import { extend, extendRgbRows, vectors } from './rgb-rows';

@inline function blended(a: v128, b: v128, c: v128, e: v128, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  return add(add(mul(a, w0), mul(b, w1)), add(mul(c, w2), mul(e, w3)));
}

/**
 * Rows of the small image mixed for one row of the large one: columns first .. last, from four rows of pixels, or of RGB rows in whole vectors. Up to one
 * vector more may be written.
 */
@inline function mixRows(line: usize, s: usize, size: usize, lw: i32, lh: i32, m: i32, w: usize, first: i32, last: i32): void {
  const stride = size == 16 ? <usize>lw << 4 : <usize>vectors(lw) << 4, w0 = each(w), w1 = each(w + 4), w2 = each(w + 8), w3 = each(w + 12);
  const left = held(first, lw), n = held(last, lw) - left + 1, at = s + <usize>left * size, inside = line + <usize>(left - first) * size;
  let a = at + <usize>held(m, lh) * stride, b = at + <usize>held(m + 1, lh) * stride, c = at + <usize>held(m + 2, lh) * stride, e = at + <usize>held(m + 3, lh) * stride;
  const end = a + <usize>n * size;
  let d = inside;
  do {
    put(d, blended(px(a), px(b), px(c), px(e), w0, w1, w2, w3));
    put(d + 16, blended(px(a + 16), px(b + 16), px(c + 16), px(e + 16), w0, w1, w2, w3));
    a += 32; b += 32; c += 32; e += 32; d += 32;
  } while (a < end);
  if (size == 16) extend(inside, n, left - first, last - held(last, lw));
  else extendRgbRows(inside, n, left - first, last - held(last, lw));
}

/** Value at t of the spline piece with coefficients c0 .. c3. */
@inline function piece(c0: v128, c1: v128, c2: v128, c3: v128, t: v128): v128 {
  return add(c0, mul(t, add(c1, mul(t, add(c2, mul(t, c3))))));
}

/** A pixel of a row whose pixels have `size` bytes; on its way from an RGB pixel to one of `step` bytes it is given its alpha. */
@inline function from(s: usize, size: usize, step: usize): v128 { return size < step ? withAlpha(px(s), splat(1)) : px(s); }

/** As `growAcross`, from pixels or RGB rows of `size` bytes to those of `step`. */
@inline function acrossBy(size: usize, step: usize, d: usize, row: usize, by: i32, origin: i32, phases: usize, x: i32, n: i32): void {
  if (by == 4) return acrossByFour(size, step, d, row, origin, x, n);
  const u = x + origin, past = phases + (<usize>by << 2), end = d + <usize>n * step;
  const sixth = splat(1.0 / 6), half = splat(0.5);
  let s = row + <usize>(u / by - 1) * size, t = phases + (<usize>(u % by) << 2);
  let p0 = from(s, size, step), p1 = from(s + size, size, step), p2 = from(s + 2 * size, size, step);
  do {
    const p3 = from(s + 3 * size, size, step), ends = add(p0, p2);
    const c0 = mul(sixth, add(ends, mul(splat(4), p1))), c1 = mul(half, sub(p2, p0)), c2 = sub(mul(half, ends), p1);
    const c3 = mul(sixth, add(sub(p3, p0), mul(splat(3), sub(p1, p2))));
    if (<usize>(past - t) & 4) { put(d, piece(c0, c1, c2, c3, each(t))); t += 4; d += step; }
    while (t < past && d < end) {
      put(d, piece(c0, c1, c2, c3, each(t)));
      put(d + step, piece(c0, c1, c2, c3, each(t + 4)));
      t += 8; d += step + step;
    }
    t = phases; s += size;
    p0 = p1; p1 = p2; p2 = p3;
  } while (d < end);
}

/** What the two of a pair have in common, and where they differ: from sums and from differences of the outer and of the inner two pixels. */
@inline function common(outer: v128, inner: v128, w0: v128, w1: v128): v128 { return add(mul(outer, w0), mul(inner, w1)); }

@inline function mirrored(d: usize, back: usize, outer: v128, inner: v128, apart: v128, across: v128, w0: v128, w1: v128, w2: v128, w3: v128): void {
  const middle = common(outer, inner, w0, w1), lean = common(apart, across, w2, w3);
  put(d, add(middle, lean));
  put(back, sub(middle, lean));
}

@inline function twice(d: usize, step: usize, a: v128, b: v128, c: v128, e: v128, w0: v128, w1: v128, w2: v128, w3: v128): void {
  mirrored(d, d + step, add(a, e), add(b, c), sub(a, e), sub(b, c), w0, w1, w2, w3);
}

/** Half of the sums (sign 1) or differences (-1) of what the outer two give to a place at t, and the inner two. */
@inline function outerAt(t: f64, sign: f64): v128 { return splat(<f32>(((1 - t) * (1 - t) * (1 - t) + sign * t * t * t) / 12)); }
@inline function innerAt(t: f64, sign: f64): v128 { return splat(<f32>((3 * t * t * t - 6 * t * t + 4 + sign * (3 * (1 - t) * (1 - t) * (1 - t) - 6 * (1 - t) * (1 - t) + 4)) / 12)); }

/** Four pixels between the middle two of four, but for the first few; returns where the next one goes. */
@inline function quad(d: usize, step: usize, few: i32, p0: v128, p1: v128, p2: v128, p3: v128): usize {
  const outer = add(p0, p3), inner = add(p1, p2), apart = sub(p0, p3), across = sub(p1, p2);
  const far = common(outer, inner, outerAt(0.125, 1), innerAt(0.125, 1)), lean = common(apart, across, outerAt(0.125, -1), innerAt(0.125, -1));
  const near = common(outer, inner, outerAt(0.375, 1), innerAt(0.375, 1)), tilt = common(apart, across, outerAt(0.375, -1), innerAt(0.375, -1));
  if (few < 1) { put(d, add(far, lean)); d += step; }
  if (few < 2) { put(d, add(near, tilt)); d += step; }
  if (few < 3) { put(d, sub(near, tilt)); d += step; }
  put(d, sub(far, lean));
  return d + step;
}

/** The same by four. Three pixels past n may be written. */
@inline function acrossByFour(size: usize, step: usize, d: usize, row: usize, origin: i32, x: i32, n: i32): void {
  const u = x + origin, end = d + <usize>n * step;
  let s = row + <usize>(u / 4 - 1) * size;
  let p0 = from(s, size, step), p1 = from(s + size, size, step), p2 = from(s + 2 * size, size, step), p3 = from(s + 3 * size, size, step);
  d = quad(d, step, u % 4, p0, p1, p2, p3);
  if (d < end) do {
    p0 = p1; p1 = p2; p2 = p3; p3 = from(s + 4 * size, size, step); s += size;
    d = quad(d, step, 0, p0, p1, p2, p3);
  } while (d < end);
}

/**
 * One row of a small image grown across by the factor `by`, a power of two from 4 on: n pixels from x, which lies `origin` pixels to the left of the small
 * image's first one. All columns that count have to be there. `phases` are `by` floats. Three pixels past n may be written.
 */
export function growAcross(d: usize, row: usize, by: i32, origin: i32, phases: usize, x: i32, n: i32): void {
  acrossBy(16, 16, d, row, by, origin, phases, x, n);
}

/** The same for RGB rows. */
export function growRgbRowsAcross(d: usize, row: usize, by: i32, origin: i32, phases: usize, x: i32, n: i32): void {
  acrossBy(12, 12, d, row, by, origin, phases, x, n);
}

/** The same, from RGB rows to opaque pixels. */
export function growOpaqueAcross(d: usize, row: usize, by: i32, origin: i32, phases: usize, x: i32, n: i32): void {
  acrossBy(12, 16, d, row, by, origin, phases, x, n);
}

/** The value of a cubic at t, and its first three differences from there in steps of h. */
@inline function value(t: f64, c0: f64, c1: f64, c2: f64, c3: f64): v128 { return splat(<f32>(c0 + t * (c1 + t * (c2 + t * c3)))); }
@inline function first(t: f64, h: f64, c1: f64, c2: f64, c3: f64): v128 { return splat(<f32>(h * (c1 + c2 * (t + t + h) + c3 * (3 * t * (t + h) + h * h)))); }
@inline function second(t: f64, h: f64, c2: f64, c3: f64): v128 { return splat(<f32>(h * h * (2 * c2 + 6 * c3 * (t + h)))); }
@inline function third(h: f64, c3: f64): v128 { return splat(<f32>(6 * h * h * h * c3)); }

/** Row k of `by` and the one that mirrors it. */
@inline function pair(d: usize, stride: usize, by: i32, k: i32, outer: v128, inner: v128, apart: v128, across: v128): void {
  const t: f64 = (<f64>k + 0.5) / <f64>by;
  mirrored(d + <usize>k * stride, d + <usize>(by - 1 - k) * stride, outer, inner, apart, across, outerAt(t, 1), innerAt(t, 1), outerAt(t, -1), innerAt(t, -1));
}

/** All rows between the middle two of four. */
@inline function allDown(by: i32, d: usize, stride: usize, a: usize, b: usize, c: usize, e: usize, n: i32): void {
  const end = d + (<usize>n << 4);
  do {
    const p0 = px(a), p1 = px(b), p2 = px(c), p3 = px(e), outer = add(p0, p3), inner = add(p1, p2), apart = sub(p0, p3), across = sub(p1, p2);
    pair(d, stride, by, 0, outer, inner, apart, across);
    pair(d, stride, by, 1, outer, inner, apart, across);
    if (by > 4) {
      pair(d, stride, by, 2, outer, inner, apart, across);
      pair(d, stride, by, 3, outer, inner, apart, across);
    }
    a += 16; b += 16; c += 16; e += 16; d += 16;
  } while (d < end);
}

/**
 * Some rows between the middle two of four that are `by` rows apart, from phase `phase` on, n vectors each, `stride` bytes apart. Three additions lead from
 * each value of a cubic to the next: at most 16 rows at a time, so that sums do not drift. One vector past n may be written.
 */
export function growDown(d: usize, stride: usize, a: usize, b: usize, c: usize, e: usize, by: i32, phase: i32, rows: i32, n: i32): void {
  if (rows == 4 && by == 4) return allDown(4, d, stride, a, b, c, e, n);
  if (rows == 8 && by == 8) return allDown(8, d, stride, a, b, c, e, n);
  const h: f64 = 1 / <f64>by, t: f64 = (<f64>phase + 0.5) * h, s: f64 = 1.0 / 6, end = d + (<usize>n << 4);
  // What each of the four rows gives to the first value and to its differences: the pieces of the B-spline, (1-t)^3/6 and so on.
  const a0 = value(t, s, -0.5, 0.5, -s), b0 = value(t, 4 * s, 0, -1, 0.5), c0 = value(t, s, 0.5, 0.5, -0.5), e0 = value(t, 0, 0, 0, s);
  const a1 = first(t, h, -0.5, 0.5, -s), b1 = first(t, h, 0, -1, 0.5), c1 = first(t, h, 0.5, 0.5, -0.5), e1 = first(t, h, 0, 0, s);
  const a2 = second(t, h, 0.5, -s), b2 = second(t, h, -1, 0.5), c2 = second(t, h, 0.5, -0.5), e2 = second(t, h, 0, s);
  const a3 = third(h, -s), b3 = third(h, 0.5);
  do {
    const p0 = px(a), p1 = px(b), p2 = px(c), p3 = px(e), q0 = px(a + 16), q1 = px(b + 16), q2 = px(c + 16), q3 = px(e + 16);
    let v0 = blended(p0, p1, p2, p3, a0, b0, c0, e0), v1 = blended(p0, p1, p2, p3, a1, b1, c1, e1), v2 = blended(p0, p1, p2, p3, a2, b2, c2, e2);
    let w0 = blended(q0, q1, q2, q3, a0, b0, c0, e0), w1 = blended(q0, q1, q2, q3, a1, b1, c1, e1), w2 = blended(q0, q1, q2, q3, a2, b2, c2, e2);
    const v3 = add(mul(a3, sub(p0, p3)), mul(b3, sub(p1, p2))), w3 = add(mul(a3, sub(q0, q3)), mul(b3, sub(q1, q2)));
    let o = d, left = rows;
    if (left & 1) {
      put(o, v0); put(o + 16, w0); v0 = add(v0, v1); w0 = add(w0, w1); v1 = add(v1, v2); w1 = add(w1, w2); v2 = add(v2, v3); w2 = add(w2, w3);
      o += stride; left--;
    }
    if (left > 0) do {
      put(o, v0); put(o + 16, w0); v0 = add(v0, v1); w0 = add(w0, w1); v1 = add(v1, v2); w1 = add(w1, w2); v2 = add(v2, v3); w2 = add(w2, w3);
      o += stride;
      put(o, v0); put(o + 16, w0); v0 = add(v0, v1); w0 = add(w0, w1); v1 = add(v1, v2); w1 = add(w1, w2); v2 = add(v2, v3); w2 = add(w2, w3);
      o += stride; left -= 2;
    } while (left > 0);
    a += 32; b += 32; c += 32; e += 32; d += 32;
  } while (d < end);
}

/**
 * n pixels of row y, from x, of a small image grown by two, whose two phases mirror each other: a quarter and three quarters of the way. `origin` is where
 * the small image's first pixel lies before the large one's, `weights` four floats for each phase, `line` scratch for n / 2 + 5 pixels. Pixels, or RGB rows, of
 * `size` bytes in and out.
 */
@inline function grownTwice(size: usize, d: usize, s: usize, lw: i32, lh: i32, origin: i32, weights: usize, x: i32, y: i32, n: i32, line: usize): void {
  const u = x + origin, v = y + origin, first = u / 2 - 1, last = (u + n) / 2 + 2;
  mixRows(line, s, size, lw, lh, v / 2 - 1, weights + (<usize>(v % 2) << 4), first, last);
  const half = splat(0.5), a0 = each(weights), a1 = each(weights + 4), a2 = each(weights + 8), a3 = each(weights + 12);
  const w0 = mul(half, add(a0, a3)), w1 = mul(half, add(a1, a2)), w2 = mul(half, sub(a0, a3)), w3 = mul(half, sub(a1, a2));
  const end = d + <usize>n * size;
  let p0 = px(line), p1 = px(line + size), p2 = px(line + 2 * size), p3 = px(line + 3 * size);
  line += 4 * size;
  if (u & 1) {
    put(d, sub(common(add(p0, p3), add(p1, p2), w0, w1), common(sub(p0, p3), sub(p1, p2), w2, w3)));
    d += size;
    p0 = p1; p1 = p2; p2 = p3; p3 = px(line); line += size;
  }
  // Four pixels of the line at a time: none has to change its register.
  const whole = d + <usize>(<i32>(end - d) / 8 / <i32>size) * (8 * size);
  if (d < whole) do {
    twice(d, size, p0, p1, p2, p3, w0, w1, w2, w3);
    p0 = px(line);
    twice(d + 2 * size, size, p1, p2, p3, p0, w0, w1, w2, w3);
    p1 = px(line + size);
    twice(d + 4 * size, size, p2, p3, p0, p1, w0, w1, w2, w3);
    p2 = px(line + 2 * size);
    twice(d + 6 * size, size, p3, p0, p1, p2, w0, w1, w2, w3);
    p3 = px(line + 3 * size);
    d += 8 * size; line += 4 * size;
  } while (d < whole);
  while (d < end) {
    twice(d, size, p0, p1, p2, p3, w0, w1, w2, w3);
    d += 2 * size;
    p0 = p1; p1 = p2; p2 = p3; p3 = px(line); line += size;
  }
}

/** One pixel past n may be written. */
export function growTwice(d: usize, s: usize, lw: i32, lh: i32, origin: i32, weights: usize, x: i32, y: i32, n: i32, line: usize): void {
  grownTwice(16, d, s, lw, lh, origin, weights, x, y, n, line);
}

/** The same for RGB rows, in rows of whole vectors. Up to 16 bytes past n may be written. */
export function growRgbRowsTwice(d: usize, s: usize, lw: i32, lh: i32, origin: i32, weights: usize, x: i32, y: i32, n: i32, line: usize): void {
  grownTwice(12, d, s, lw, lh, origin, weights, x, y, n, line);
}
