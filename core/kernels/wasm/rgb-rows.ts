/*
 * Opaque pixels as RGB rows: red, green and blue of 12 bytes a pixel. And rims: the border pixel, or RGB pixel, repeated outwards. A filter that goes down
 * the rows takes a row of RGB rows as so many vectors, whatever pixels these belong to.
 */
// @ts-nocheck
import { px, put, splat, withAlpha } from './lanes';

/** Vectors that hold so many RGB rows. */
@inline export function vectors(n: i32): i32 { return (3 * n + 3) >> 2; }

/** One RGB pixel, and not a byte more. */
@inline export function putRgb(d: usize, v: v128): void {
  v128.store64_lane(d, v, 0);
  v128.store32_lane(d + 8, v, 2);
}

/** Opaque pixels to RGB rows; `d` may be `s`. */
export function rgbRows(d: usize, s: usize, n: i32): void {
  const last = s + (<usize>(n - 1) << 4);
  if (s < last) do { put(d, px(s)); d += 12; s += 16; } while (s < last);
  putRgb(d, px(s));
}

/** RGB rows to opaque pixels; `d` may be `s`: it goes from the last to the first. */
export function opaque(d: usize, s: usize, n: i32): void {
  const one = splat(1), begin = d;
  d += <usize>n << 4; s += <usize>(12 * n);
  if (n & 1) { d -= 16; s -= 12; put(d, withAlpha(px(s), one)); }
  if (d > begin) do {
    d -= 32; s -= 24;
    const a = px(s), b = px(s + 12);
    put(d + 16, withAlpha(b, one));
    put(d, withAlpha(a, one));
  } while (d > begin);
}

/** As `extend`, for RGB rows. Four bytes past the last may be written. */
export function extendRgbRows(d: usize, n: i32, left: i32, right: i32): void {
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
