/*
 * Gaussian blur through a pyramid: halve, blur small, grow back with cubic B-splines (P. Burt and E. Adelson 1983;
 * M. Unser, "Splines", 1999). Widths, strides and positions are in pixels; the border pixel goes on for ever.
 */
// @ts-nocheck
import { add, each, held, mul, put, px, splat, sub } from './lanes';

/** One row of (1 5 10 10 5 1) taken across, from a line that brings its own rim; n results. */
@inline function halveAcross(d: usize, line: usize, n: i32): void {
  const five = splat(5), ten = splat(10), end = d + (<usize>n << 4);
  do {
    const outer = add(px(line), px(line + 80)), middle = add(px(line + 16), px(line + 64)), inner = add(px(line + 32), px(line + 48));
    put(d, add(outer, add(mul(five, middle), mul(ten, inner))));
    d += 16; line += 32;
  } while (d < end);
}

/** One row of (1 5 10 10 5 1)/1024 taken down, n pixels: six rows, a to g. */
@inline function halveDown(d: usize, a: usize, b: usize, c: usize, e: usize, g: usize, h: usize, n: i32): void {
  const one = splat(1.0 / 1024), five = splat(5.0 / 1024), ten = splat(10.0 / 1024), end = d + (<usize>n << 4);
  do {
    const outer = add(px(a), px(h)), middle = add(px(b), px(g)), inner = add(px(c), px(e));
    put(d, add(mul(one, outer), add(mul(five, middle), mul(ten, inner))));
    a += 16; b += 16; c += 16; e += 16; g += 16; h += 16; d += 16;
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

/** Repeats the first and the last pixel of n pixels at `d` outwards, `left` and `right` times. */
export function extend(d: usize, n: i32, left: i32, right: i32): void {
  const first = px(d), end = d + (<usize>n << 4), last = px(end - 16);
  for (let i = 1; i <= left; i++) put(d - (<usize>i << 4), first);
  for (let i = 0; i < right; i++) put(end + (<usize>i << 4), last);
}

/**
 * Symmetric filter across: `rows` rows of n results, the first at pixel `from` of source rows `sw` wide.
 * `taps` holds radius + 1 floats from the centre out; `line` is scratch for n + 2 radius + 4 pixels.
 */
export function firAcross(d: usize, dStride: i32, s: usize, sStride: i32, sw: i32, from: i32, n: i32, rows: i32, radius: i32, taps: usize, line: usize): void {
  for (let y = 0; y < rows; y++) {
    const first = from - radius, last = from + n + radius + 4, left = first < 0 ? -first : 0, right = last > sw ? last - sw : 0;
    const inside = n + 2 * radius + 4 - left - right, at = line + (<usize>left << 4);
    memory.copy(at, s + (<usize>(first + left) << 4), <usize>inside << 4);
    extend(at, inside, left, right);
    let o = d;
    for (let x = 0; x < n; x += 4) {
      const p = line + (<usize>(x + radius) << 4);
      let k = each(taps), a0 = mul(px(p), k), a1 = mul(px(p + 16), k), a2 = mul(px(p + 32), k), a3 = mul(px(p + 48), k);
      let u = p + 16, v = p - 16, t = taps + 4;
      const end = taps + (<usize>radius << 2);
      do {
        k = each(t);
        a0 = add(a0, mul(k, add(px(u), px(v)))); a1 = add(a1, mul(k, add(px(u + 16), px(v + 16))));
        a2 = add(a2, mul(k, add(px(u + 32), px(v + 32)))); a3 = add(a3, mul(k, add(px(u + 48), px(v + 48))));
        u += 16; v -= 16; t += 4;
      } while (t <= end);
      put(o, a0);
      if (x + 1 < n) put(o + 16, a1);
      if (x + 2 < n) put(o + 32, a2);
      if (x + 3 < n) put(o + 48, a3);
      o += 64;
    }
    d += <usize>dStride << 4; s += <usize>sStride << 4;
  }
}

/** Symmetric filter down: `rows` rows of n results, the first at row `from` of a source `sh` rows high. */
export function firDown(d: usize, dStride: i32, s: usize, sStride: i32, sh: i32, from: i32, rows: i32, n: i32, radius: i32, taps: usize): void {
  const stride = <usize>sStride << 4;
  for (let y = from, to = from + rows; y < to; y++) {
    let o = d, x = 0;
    while (x + 4 <= n) {
      const at = s + (<usize>x << 4), p = at + <usize>held(y, sh) * stride;
      let k = each(taps), a0 = mul(px(p), k), a1 = mul(px(p + 16), k), a2 = mul(px(p + 32), k), a3 = mul(px(p + 48), k), i = 1;
      do {
        k = each(taps + (<usize>i << 2));
        const u = at + <usize>held(y - i, sh) * stride, v = at + <usize>held(y + i, sh) * stride;
        a0 = add(a0, mul(k, add(px(u), px(v)))); a1 = add(a1, mul(k, add(px(u + 16), px(v + 16))));
        a2 = add(a2, mul(k, add(px(u + 32), px(v + 32)))); a3 = add(a3, mul(k, add(px(u + 48), px(v + 48))));
      } while (++i <= radius);
      put(o, a0); put(o + 16, a1); put(o + 32, a2); put(o + 48, a3);
      x += 4; o += 64;
    }
    while (x < n) {
      const at = s + (<usize>x << 4);
      let a = mul(px(at + <usize>held(y, sh) * stride), each(taps)), i = 1;
      do {
        a = add(a, mul(each(taps + (<usize>i << 2)), add(px(at + <usize>held(y - i, sh) * stride), px(at + <usize>held(y + i, sh) * stride))));
      } while (++i <= radius);
      put(o, a);
      x++; o += 16;
    }
    d += <usize>dStride << 4;
  }
}

/** Rows of the small image mixed for one row of the large one: columns first .. last, from four rows. */
@inline function mixRows(line: usize, s: usize, lw: i32, lh: i32, m: i32, w: usize, first: i32, last: i32): void {
  const stride = <usize>lw << 4;
  const a = s + <usize>held(m, lh) * stride, b = s + <usize>held(m + 1, lh) * stride, c = s + <usize>held(m + 2, lh) * stride, e = s + <usize>held(m + 3, lh) * stride;
  const w0 = each(w), w1 = each(w + 4), w2 = each(w + 8), w3 = each(w + 12);
  let i = first;
  do {
    const at = <usize>held(i, lw) << 4;
    put(line, add(add(mul(px(a + at), w0), mul(px(b + at), w1)), add(mul(px(c + at), w2), mul(px(e + at), w3))));
    line += 16;
  } while (++i <= last);
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
  const w0 = each(weights), w1 = each(weights + 4), w2 = each(weights + 8), w3 = each(weights + 12), end = d + (<usize>n << 4);
  let p0 = px(line), p1 = px(line + 16), p2 = px(line + 32), p3 = px(line + 48);
  line += 64;
  if (u & 1) {
    put(d, add(add(mul(p0, w3), mul(p1, w2)), add(mul(p2, w1), mul(p3, w0))));
    d += 16;
    p0 = p1; p1 = p2; p2 = p3; p3 = px(line); line += 16;
  }
  while (d < end) {
    put(d, add(add(mul(p0, w0), mul(p1, w1)), add(mul(p2, w2), mul(p3, w3))));
    put(d + 16, add(add(mul(p0, w3), mul(p1, w2)), add(mul(p2, w1), mul(p3, w0))));
    d += 32;
    p0 = p1; p1 = p2; p2 = p3; p3 = px(line); line += 16;
  }
}
