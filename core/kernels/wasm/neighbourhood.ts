/*
 * Filters of pixels by their neighbours: the opening of a lens, what moves, brush strokes, a surface in the light. Images of w x h pixels, premultiplied; `d` is as large
 * as `s` and another one. Of it `cols` pixels from `left` on are made of `rows` rows from `top` on.
 */
// @ts-nocheck
import { add, f, held, luma, most, mul, nth, px, put, splat, sub } from './lanes';
import { firAcross, firDown } from './blur';

/* A transform by fours: numbers of an image are complex, a real and an imaginary vector, 32 bytes. Twiddles are (cos, sin) of 2 pi i / n. */

/** A butterfly down: the four numbers at p, p + q, p + 2q and p + 3q; w1 to w3 their turns. */
@inline function down(p: usize, q: usize, c1: v128, s1: v128, c2: v128, s2: v128, c3: v128, s3: v128): void {
  const ar = px(p), ai = px(p + 16), br = px(p + q), bi = px(p + q + 16), cr = px(p + 2 * q), ci = px(p + 2 * q + 16), dr = px(p + 3 * q), di = px(p + 3 * q + 16);
  const t0r = add(ar, cr), t0i = add(ai, ci), t1r = sub(ar, cr), t1i = sub(ai, ci), t2r = add(br, dr), t2i = add(bi, di);
  // -i (b - d)
  const t3r = sub(bi, di), t3i = sub(dr, br);
  put(p, add(t0r, t2r)); put(p + 16, add(t0i, t2i));
  let r = add(t1r, t3r), i = add(t1i, t3i);
  put(p + q, add(mul(r, c1), mul(i, s1))); put(p + q + 16, sub(mul(i, c1), mul(r, s1)));
  r = sub(t0r, t2r); i = sub(t0i, t2i);
  put(p + 2 * q, add(mul(r, c2), mul(i, s2))); put(p + 2 * q + 16, sub(mul(i, c2), mul(r, s2)));
  r = sub(t1r, t3r); i = sub(t1i, t3i);
  put(p + 3 * q, add(mul(r, c3), mul(i, s3))); put(p + 3 * q + 16, sub(mul(i, c3), mul(r, s3)));
}

/** The way back. */
@inline function back(p: usize, q: usize, c1: v128, s1: v128, c2: v128, s2: v128, c3: v128, s3: v128): void {
  const ar = px(p), ai = px(p + 16);
  let r = px(p + q), i = px(p + q + 16);
  const br = sub(mul(r, c1), mul(i, s1)), bi = add(mul(i, c1), mul(r, s1));
  r = px(p + 2 * q); i = px(p + 2 * q + 16);
  const cr = sub(mul(r, c2), mul(i, s2)), ci = add(mul(i, c2), mul(r, s2));
  r = px(p + 3 * q); i = px(p + 3 * q + 16);
  const dr = sub(mul(r, c3), mul(i, s3)), di = add(mul(i, c3), mul(r, s3));
  const t0r = add(ar, cr), t0i = add(ai, ci), t1r = sub(ar, cr), t1i = sub(ai, ci), t2r = add(br, dr), t2i = add(bi, di);
  // i (b - d)
  const t3r = sub(di, bi), t3i = sub(br, dr);
  put(p, add(t0r, t2r)); put(p + 16, add(t0i, t2i));
  put(p + q, add(t1r, t3r)); put(p + q + 16, add(t1i, t3i));
  put(p + 2 * q, sub(t0r, t2r)); put(p + 2 * q + 16, sub(t0i, t2i));
  put(p + 3 * q, sub(t1r, t3r)); put(p + 3 * q + 16, sub(t1i, t3i));
}

/** All stages of a transform of n numbers that lie `step` bytes apart; `side` of them beside each other, 32 bytes apart, at once. */
function stages(p: usize, n: i32, step: usize, side: i32, turns: usize, forward: bool): void {
  let m = forward ? n : 4;
  const across = <usize>side << 5;
  do {
    const quarter = m >> 2, q = <usize>quarter * step, by = n / m;
    let j = 0;
    do {
      const t1 = turns + (<usize>(j * by) << 3), t2 = turns + (<usize>(2 * j * by) << 3), t3 = turns + (<usize>(3 * j * by) << 3);
      const c1 = splat(f(t1)), s1 = splat(f(t1 + 4)), c2 = splat(f(t2)), s2 = splat(f(t2 + 4)), c3 = splat(f(t3)), s3 = splat(f(t3 + 4));
      let k = j;
      do {
        let at = p + <usize>k * step;
        const end = at + across;
        if (forward) do { down(at, q, c1, s1, c2, s2, c3, s3); at += 32; } while (at < end);
        else do { back(at, q, c1, s1, c2, s2, c3, s3); at += 32; } while (at < end);
        k += m;
      } while (k < n);
    } while (++j < quarter);
    m = forward ? m >> 2 : m << 2;
  } while (forward ? m >= 4 : m <= n);
}

/** A square of an image as the real or the imaginary parts of numbers; its border goes on. Tells whether there is anything in it. */
function takeSquare(p: usize, line: usize, s: usize, w: i32, h: i32, x0: i32, y0: i32, n: i32): bool {
  let y = 0, any = splat(0);
  do {
    let to = p + <usize>y * line;
    const row = s + (<usize>held(y0 + y, h) * <usize>w << 4);
    let x = 0;
    do { const v = px(row + (<usize>held(x0 + x, w) << 4)); any = v128.or(any, v); put(to, v); to += 32; } while (++x < n);
  } while (++y < n);
  return v128.any_true(any);
}

function giveSquare(d: usize, from: usize, line: usize, w: i32, x0: i32, y0: i32, nx: i32, ny: i32, reach: i32): void {
  let y = 0;
  do {
    let at = from + <usize>(reach + y) * line + (<usize>reach << 5), o = d + (<usize>((y0 + y) * w + x0) << 4), x = 0;
    do { put(o, px(at)); at += 32; o += 16; } while (++x < nx);
  } while (++y < ny);
}

/** Columns that are transformed at once: they stay in the nearest caches. */
const SIDE: i32 = 4;
/** Bytes between the rows of a square, beyond its own: rows that lie whole pages apart would drive each other out of the caches. */
const APART: usize = 256;

/** A square of numbers there and back, multiplied by a spectrum on the way. Of the rows that come back only those within the reach are needed. */
function transformed(p: usize, line: usize, n: i32, reach: i32, v: i32, turns: usize, spectrum: usize): void {
  let y = 0;
  do { stages(p + <usize>y * line, n, 32, 1, turns, true); } while (++y < n);
  let x = 0;
  do {
    const column = p + (<usize>x << 5);
    stages(column, n, line, SIDE, turns, true);
    y = 0;
    do {
      let at = column + <usize>y * line, k = spectrum + (<usize>(y * n + x) << 3);
      const end = at + (<usize>SIDE << 5);
      do {
        const c = splat(f(k)), e = splat(f(k + 4)), re = px(at), im = px(at + 16);
        put(at, sub(mul(re, c), mul(im, e))); put(at + 16, add(mul(re, e), mul(im, c)));
        at += 32; k += 8;
      } while (at < end);
    } while (++y < n);
    stages(column, n, line, SIDE, turns, false);
    x += SIDE;
  } while (x < n);
  y = 0;
  do { stages(p + <usize>(reach + y) * line, n, 32, 1, turns, false); } while (++y < v);
}

/** A picture through the opening of a lens; the table is of the filter `aperture`. Two squares at a time, one as real and one as imaginary parts: the opening is real. */
export function aperture(d: usize, s: usize, w: i32, h: i32, left: i32, top: i32, cols: i32, rows: i32, table: usize, scratch: usize): void {
  const reach = <i32>f(table), n = <i32>f(table + 4), turns = table + 16, spectrum = turns + (<usize>n << 3), v = n - 2 * reach;
  const wide = (cols + v - 1) / v, count = wide * ((rows + v - 1) / v), line = (<usize>n << 5) + APART, right = left + cols, bottom = top + rows;
  let i = 0;
  do {
    const next = min(i + 1, count - 1);
    const ax = left + (i % wide) * v, ay = top + (i / wide) * v, bx = left + (next % wide) * v, by = top + (next / wide) * v;
    const one = takeSquare(scratch, line, s, w, h, ax - reach, ay - reach, n), other = takeSquare(scratch + 16, line, s, w, h, bx - reach, by - reach, n);
    // Nothing stays nothing.
    if (one || other) transformed(scratch, line, n, reach, v, turns, spectrum);
    giveSquare(d, scratch, line, w, ax, ay, min(v, right - ax), min(v, bottom - ay), reach);
    if (next > i) giveSquare(d, scratch + 16, line, w, bx, by, min(v, right - bx), min(v, bottom - by), reach);
    i += 2;
  } while (i < count);
}

/** Between four pixels, by straight lines. */
@inline function between(s: usize, w: i32, h: i32, x: f32, y: f32): v128 {
  const fx = floor<f32>(x), fy = floor<f32>(y), tx = splat(x - fx), ty = splat(y - fy), i = <i32>fx, j = <i32>fy;
  const a = <usize>held(i, w) << 4, b = <usize>held(i + 1, w) << 4, r = s + (<usize>(held(j, h) * w) << 4), q = s + (<usize>(held(j + 1, h) * w) << 4);
  const u = px(r + a), v = px(q + a), o = add(u, mul(sub(px(r + b), u), tx)), e = add(v, mul(sub(px(q + b), v), tx));
  return add(o, mul(sub(e, o), ty));
}

/** The mean of what is seen from several places; the table is of the filter `sweep`. */
export function sweep(d: usize, s: usize, w: i32, h: i32, left: i32, top: i32, cols: i32, rows: i32, ox: i32, oy: i32, table: usize): void {
  const count = <i32>f(table), past = table + 16 + <usize>(24 * count), share = splat(<f32>1 / <f32>count);
  let y = top;
  do {
    const yy: f32 = <f32>(y + oy) + <f32>0.5;
    let x = left, o = d + (<usize>(y * w + left) << 4);
    do {
      const xx: f32 = <f32>(x + ox) + <f32>0.5;
      let sum = splat(0), m = table + 16;
      do {
        const u: f32 = f(m) * xx + f(m + 4) * yy + f(m + 8) - <f32>ox - <f32>0.5, v: f32 = f(m + 12) * xx + f(m + 16) * yy + f(m + 20) - <f32>oy - <f32>0.5;
        sum = add(sum, between(s, w, h, min<f32>(max<f32>(u, 0), <f32>(w - 1)), min<f32>(max<f32>(v, 0), <f32>(h - 1))));
        m += 24;
      } while (m < past);
      put(o, mul(sum, share));
      o += 16;
    } while (++x < left + cols);
  } while (++y < top + rows);
}

/** A surface lit from one side; the table is of the filter `relief`. */
export function relief(d: usize, s: usize, w: i32, h: i32, left: i32, top: i32, cols: i32, rows: i32, table: usize): void {
  const dx = f(table), dy = f(table + 4), amount = f(table + 8);
  let y = top;
  do {
    let x = left, o = d + (<usize>(y * w + left) << 4);
    do {
      const v = px(s + (<usize>(y * w + x) << 4)), u: f32 = <f32>x, e: f32 = <f32>y, limX: f32 = <f32>(w - 1), limY: f32 = <f32>(h - 1);
      const here = between(s, w, h, min<f32>(max<f32>(u + dx, 0), limX), min<f32>(max<f32>(e + dy, 0), limY));
      const there = between(s, w, h, min<f32>(max<f32>(u - dx, 0), limX), min<f32>(max<f32>(e - dy, 0), limY));
      const rise: f32 = luma(there) - luma(here), alpha = f32x4.extract_lane(v, 3);
      const lit: f32 = amount * rise / (<f32>0.25 + abs<f32>(rise));
      put(o, f32x4.replace_lane(add(v, splat(lit * alpha)), 3, alpha));
      o += 16;
    } while (++x < left + cols);
  } while (++y < top + rows);
}

@inline function three(v: v128): f32 { return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2); }

/** How colours change across and down: xx, yy, xy, of a pixel. */
@inline function steepness(s: usize, w: i32, h: i32, x: i32, y: i32): v128 {
  const l = held(x - 1, w), r = held(x + 1, w), o = s + (<usize>(held(y - 1, h) * w) << 4), m = s + (<usize>(y * w) << 4), u = s + (<usize>(held(y + 1, h) * w) << 4);
  const two = splat(2), c = <usize>x << 4, a = <usize>l << 4, b = <usize>r << 4;
  const gx = sub(add(add(px(o + b), px(u + b)), mul(px(m + b), two)), add(add(px(o + a), px(u + a)), mul(px(m + a), two)));
  const gy = sub(add(add(px(u + a), px(u + b)), mul(px(u + c), two)), add(add(px(o + a), px(o + b)), mul(px(o + c), two)));
  const xx = mul(gx, gx), yy = mul(gy, gy), xy = mul(gx, gy);
  return f32x4(three(xx), three(yy), three(xy), 0);
}

/** Four of the eight sectors' weights at a place: those that look down, left, up and right. */
@inline function sectors(x: f32, y: f32, zeta: f32, eta: f32): v128 {
  const a: f32 = zeta - eta * x * x, b: f32 = zeta - eta * y * y;
  const z = most(splat(0), f32x4(y + a, b - x, a - y, x + b));
  return mul(z, z);
}

/** How even a sector is, 0..1, from its sums of values and of squares. */
@inline function evenness(m: v128, q: v128, weight: f32, hardness: f32): f32 {
  const by = splat(<f32>1 / max<f32>(weight, <f32>1e-12)), mean = mul(m, by), e: f32 = hardness * three(f32x4.abs(sub(mul(q, by), mul(mean, mean)))), e2: f32 = e * e;
  return <f32>1 / (<f32>1 + e2 * e2);
}
/** Its mean, so many times. */
@inline function part(m: v128, weight: f32, times: f32): v128 { return mul(m, splat(times / max<f32>(weight, <f32>1e-12))); }

/** Brush strokes along edges; the table is of the filter `painterly`. */
export function painterly(d: usize, s: usize, w: i32, h: i32, left: i32, top: i32, cols: i32, rows: i32, table: usize, scratch: usize): void {
  const radius = f(table), flow = f(table + 4), hardness: f32 = <f32>8 + <f32>500 * f(table + 8) * f(table + 8), reach = <i32>f(table + 12), taps = table + 16;
  const first = max(0, top - reach), last = min(h, top + rows + reach), plane = (<usize>(w * (last - first)) + 64) << 4;
  const ways = scratch, spare = scratch + plane, line = spare + plane;
  let y = first, to = ways;
  do { let x = 0; do { put(to, steepness(s, w, h, x, y)); to += 16; } while (++x < w); } while (++y < last);
  firAcross(spare, w, ways, w, w, 0, w, last - first, reach, taps, line);
  firDown(ways, w, spare, w, last - first, 0, last - first, w, reach, taps);
  const zeta: f32 = <f32>2 / max<f32>(radius, 2), zero: f32 = <f32>1.1780972, eta: f32 = (zeta + <f32>Mathf.cos(zero)) / (<f32>Mathf.sin(zero) * <f32>Mathf.sin(zero));
  y = top;
  do {
    let x = left, o = d + (<usize>(y * w + left) << 4), at = ways + (<usize>((y - first) * w + left) << 4);
    do {
      const t = px(at), xx = f32x4.extract_lane(t, 0), yy = f32x4.extract_lane(t, 1), xy = f32x4.extract_lane(t, 2);
      const root: f32 = sqrt<f32>((xx - yy) * (xx - yy) + <f32>4 * xy * xy), big: f32 = (xx + yy + root) * <f32>0.5, sure: f32 = root / (xx + yy + <f32>1e-4);
      // Along the edge: across the greatest steepness.
      let ax: f32 = big - xx, ay: f32 = -xy;
      if (abs<f32>(ax) + abs<f32>(ay) < <f32>1e-8) { ax = xx < yy ? 1 : 0; ay = xx < yy ? 0 : 1; }
      const size: f32 = <f32>1 / sqrt<f32>(ax * ax + ay * ay), co: f32 = ax * size, si: f32 = ay * size;
      const stretch: f32 = <f32>1 + flow * sure, long: f32 = radius * min<f32>(stretch, 2), wide: f32 = radius / stretch;
      const bx = <i32>ceil<f32>(sqrt<f32>(long * long * co * co + wide * wide * si * si)), by = <i32>ceil<f32>(sqrt<f32>(long * long * si * si + wide * wide * co * co));
      let m0 = splat(0), m1 = m0, m2 = m0, m3 = m0, m4 = m0, m5 = m0, m6 = m0, m7 = m0, q0 = m0, q1 = m0, q2 = m0, q3 = m0, q4 = m0, q5 = m0, q6 = m0, q7 = m0, wa = m0, wb = m0;
      const kl: f32 = <f32>0.5 / long, kw: f32 = <f32>0.5 / wide;
      let j = -by;
      do {
        const row = s + (<usize>(held(y + j, h) * w) << 4), jj = <f32>j;
        let i = -bx;
        do {
          const ii = <f32>i, u: f32 = (ii * co + jj * si) * kl, v: f32 = (jj * co - ii * si) * kw, r2: f32 = u * u + v * v;
          if (r2 <= <f32>0.25) {
            const c = px(row + (<usize>held(x + i, w) << 4)), cc = mul(c, c);
            let a = sectors(u, v, zeta, eta), b = sectors(<f32>0.70710678 * (u - v), <f32>0.70710678 * (u + v), zeta, eta);
            const all = add(a, b), sum: f32 = f32x4.extract_lane(all, 0) + f32x4.extract_lane(all, 1) + f32x4.extract_lane(all, 2) + f32x4.extract_lane(all, 3);
            // e^(-3.125 r2) by its first terms, good enough for a window.
            const z: f32 = <f32>1 - <f32>0.390625 * r2, z2: f32 = z * z, z4: f32 = z2 * z2, g = splat(z4 * z4 / max<f32>(sum, <f32>1e-12));
            a = mul(a, g); b = mul(b, g);
            wa = add(wa, a); wb = add(wb, b);
            let k = nth(a, 0); m0 = add(m0, mul(c, k)); q0 = add(q0, mul(cc, k));
            k = nth(a, 1); m1 = add(m1, mul(c, k)); q1 = add(q1, mul(cc, k));
            k = nth(a, 2); m2 = add(m2, mul(c, k)); q2 = add(q2, mul(cc, k));
            k = nth(a, 3); m3 = add(m3, mul(c, k)); q3 = add(q3, mul(cc, k));
            k = nth(b, 0); m4 = add(m4, mul(c, k)); q4 = add(q4, mul(cc, k));
            k = nth(b, 1); m5 = add(m5, mul(c, k)); q5 = add(q5, mul(cc, k));
            k = nth(b, 2); m6 = add(m6, mul(c, k)); q6 = add(q6, mul(cc, k));
            k = nth(b, 3); m7 = add(m7, mul(c, k)); q7 = add(q7, mul(cc, k));
          }
        } while (++i <= bx);
      } while (++j <= by);
      const a0 = f32x4.extract_lane(wa, 0), a1 = f32x4.extract_lane(wa, 1), a2 = f32x4.extract_lane(wa, 2), a3 = f32x4.extract_lane(wa, 3);
      const b0 = f32x4.extract_lane(wb, 0), b1 = f32x4.extract_lane(wb, 1), b2 = f32x4.extract_lane(wb, 2), b3 = f32x4.extract_lane(wb, 3);
      let k: f32 = evenness(m0, q0, a0, hardness), all0: f32 = k, out = part(m0, a0, k);
      k = evenness(m1, q1, a1, hardness); all0 += k; out = add(out, part(m1, a1, k));
      k = evenness(m2, q2, a2, hardness); all0 += k; out = add(out, part(m2, a2, k));
      k = evenness(m3, q3, a3, hardness); all0 += k; out = add(out, part(m3, a3, k));
      k = evenness(m4, q4, b0, hardness); all0 += k; out = add(out, part(m4, b0, k));
      k = evenness(m5, q5, b1, hardness); all0 += k; out = add(out, part(m5, b1, k));
      k = evenness(m6, q6, b2, hardness); all0 += k; out = add(out, part(m6, b2, k));
      k = evenness(m7, q7, b3, hardness); all0 += k; out = add(out, part(m7, b3, k));
      put(o, mul(out, splat(<f32>1 / all0)));
      o += 16; at += 16;
    } while (++x < left + cols);
  } while (++y < top + rows);
}
