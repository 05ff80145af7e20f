/*
 * Symmetric filters, across and down. Widths, strides and positions are in pixels, or in vectors where RGB rows are filtered down; the border pixel
 * goes on for ever.
 */
// @ts-nocheck
import { add, each, held, mul, px, put } from './lanes';
import { extend, extendRgbRows, vectors } from './rgb-rows';

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

/** The same for one row of n RGB rows, all of it. `line` is scratch for n + 2 radius + 8 of them. Up to 12 bytes past n may be written. */
export function firRgbRows(d: usize, s: usize, n: i32, radius: i32, taps: usize, line: usize): void {
  const at = line + <usize>(12 * radius);
  memory.copy(at, s, <usize>(12 * n));
  extendRgbRows(at, n, radius, radius + 5);
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
