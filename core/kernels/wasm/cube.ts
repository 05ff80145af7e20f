/*
 * Look-up tables from .cube files, on straight colour; alpha stays. A table is: size and size - 1; where the domain begins; entries per unit; the entries,
 * four floats each. Values outside the domain are held at its ends. `d` may be `s`.
 */
// @ts-nocheck
import { add, f, least, most, mul, px, put, splat, sub, withAlpha } from './lanes';

/** Where a colour stands among the entries, 0 .. size - 1. */
@inline function place(v: v128, table: usize): v128 {
  return least(most(splat(0), mul(sub(v, px(table + 16)), px(table + 32))), splat(f(table + 4)));
}
/** The entry before a place, with one after it. */
@inline function before(t: f32, last: i32): i32 { const i = <i32>t; return i < last ? i : last - 1; }

export function ramps(d: usize, s: usize, n: i32, table: usize): void {
  const last = <i32>f(table + 4), entries = table + 48, end = s + (<usize>n << 4);
  do {
    const v = px(s), t = place(v, table);
    const r = f32x4.extract_lane(t, 0), g = f32x4.extract_lane(t, 1), b = f32x4.extract_lane(t, 2), i = before(r, last), j = before(g, last), k = before(b, last);
    const pr = entries + (<usize>i << 4), pg = entries + (<usize>j << 4) + 4, pb = entries + (<usize>k << 4) + 8;
    const low = f32x4(f(pr), f(pg), f(pb), 0), high = f32x4(f(pr + 16), f(pg + 16), f(pb + 16), 0), way = sub(t, f32x4(<f32>i, <f32>j, <f32>k, 0));
    put(d, withAlpha(add(low, mul(sub(high, low), way)), v));
    s += 16; d += 16;
  } while (s < end);
}

/** Between the two ends of a cell's diagonal the way goes along the axis that is furthest on first: six tetrahedra (H. Kang, "Computational Color Technology", 2006, 4.4). */
export function lattice(d: usize, s: usize, n: i32, table: usize): void {
  const size = <i32>f(table), last = size - 1, entries = table + 48, end = s + (<usize>n << 4);
  const stepG = <usize>size << 4, stepB = <usize>(size * size) << 4;
  do {
    const v = px(s), t = place(v, table);
    let r = f32x4.extract_lane(t, 0), g = f32x4.extract_lane(t, 1), b = f32x4.extract_lane(t, 2);
    const i = before(r, last), j = before(g, last), k = before(b, last), p = entries + (<usize>i << 4) + <usize>j * stepG + <usize>k * stepB;
    r -= <f32>i; g -= <f32>j; b -= <f32>k;
    let first: usize, second: usize, x: f32, y: f32, z: f32;
    if (r >= g) {
      if (g >= b) { first = 16; second = 16 + stepG; x = r; y = g; z = b; }
      else if (r >= b) { first = 16; second = 16 + stepB; x = r; y = b; z = g; }
      else { first = stepB; second = 16 + stepB; x = b; y = r; z = g; }
    } else if (b >= g) { first = stepB; second = stepB + stepG; x = b; y = g; z = r; }
    else if (b >= r) { first = stepG; second = stepG + stepB; x = g; y = b; z = r; }
    else { first = stepG; second = stepG + 16; x = g; y = r; z = b; }
    const a = px(p), c = px(p + first), e = px(p + second), h = px(p + 16 + stepG + stepB);
    put(d, withAlpha(add(a, add(mul(sub(c, a), splat(x)), add(mul(sub(e, c), splat(y)), mul(sub(h, e), splat(z))))), v));
    s += 16; d += 16;
  } while (s < end);
}
