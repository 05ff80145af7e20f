/*
 * Painted strokes. A stroke is a soft disc swept along its points; where it goes over itself the strongest counts. Strokes are told by a table, whose map leads from whole
 * pixels to the photo (nine floats in room for twelve); then how many strokes there are and three spare floats; sixteen floats for each stroke: the box that it
 * lies in, in pixels (left, top, right, bottom), +1 or -1, one over the share in which it fades, where its first segment lies (in floats from the table's begin) and
 * how many it has; sixteen floats for each segment: where it begins, what it goes on by, one over its length squared, radius and what it grows by, flow and what that
 * grows by, the box.
 */
// @ts-nocheck
import { add, div, each, f, least, most, mul, put, px, smooth, splat, sub, unit } from './lanes';

const MAP: usize = 48;
const EACH: usize = 64;

/** Where the photo's places of a row are written: n floats across, n down; behind them a row of coverage. */
@inline function places(line: usize, stride: usize, n: i32, x: i32, y: i32, t: usize): void {
  const yy = <f32>y, ru = splat(f(t + 4) * yy + f(t + 8)), rv = splat(f(t + 16) * yy + f(t + 20)), rw = splat(f(t + 28) * yy + f(t + 32));
  const a = each(t), b = each(t + 12), c = each(t + 24);
  let p = line, xs = add(splat(<f32>x), f32x4(0, 1, 2, 3));
  const end = line + (<usize>n << 2);
  do {
    const w = div(splat(1), add(mul(c, xs), rw));
    put(p, mul(add(mul(a, xs), ru), w));
    put(p + stride, mul(add(mul(b, xs), rv), w));
    xs = add(xs, splat(4)); p += 16;
  } while (p < end);
}

/** The strongest of a stroke's segments at pixels x..x+n of row y, from `from` to `to` among them, left where rows of coverage is. */
@inline function stroke(line: usize, stride: usize, x: i32, y: f32, from: i32, to: i32, t: usize, s: usize): void {
  const sums = line + 2 * stride, fade = each(s + 20);
  let p = sums + (<usize>from << 2);
  const cleared = sums + (<usize>to << 2);
  do { put(p, splat(0)); p += 16; } while (p < cleared);
  let seg = t + (<usize>f(s + 24) << 2);
  const last = seg + (<usize>f(s + 28)) * EACH;
  do {
    if (y >= f(seg + 40) && y <= f(seg + 48)) {
      const left = max<i32>(from, (<i32>f(seg + 36) - x) & ~3), right = min<i32>(to, <i32>f(seg + 44) - x + 1);
      if (left < right) {
        const x0 = each(seg), y0 = each(seg + 4), dx = each(seg + 8), dy = each(seg + 12), il = each(seg + 16), r0 = each(seg + 20), dr = each(seg + 24), f0 = each(seg + 28), df = each(seg + 32);
        let q = line + (<usize>left << 2);
        const until = line + (<usize>right << 2);
        do {
          const u = sub(px(q), x0), v = sub(px(q + stride), y0), way = unit(mul(add(mul(u, dx), mul(v, dy)), il));
          const du = sub(u, mul(way, dx)), dv = sub(v, mul(way, dy)), off = div(f32x4.sqrt(add(mul(du, du), mul(dv, dv))), add(r0, mul(way, dr)));
          const m = mul(smooth(unit(mul(sub(splat(1), off), fade))), add(f0, mul(way, df)));
          put(q + 2 * stride, most(m, px(q + 2 * stride)));
          q += 16;
        } while (q < until);
      }
    }
    seg += EACH;
  } while (seg < last);
}

/** How strokes change coverage: those that give cover more of what is left, those that take away leave less. `line` is scratch for 3 n + 48 floats. */
export function brush(d: usize, s: usize, n: i32, x: i32, y: i32, t: usize, line: usize): void { paint(d, s, n, x, y, t, line, false); }

/** Coverage of strokes added up, either way, without an end: a map of light. */
export function lights(d: usize, s: usize, n: i32, x: i32, y: i32, t: usize, line: usize): void { paint(d, s, n, x, y, t, line, true); }

@inline function paint(d: usize, s: usize, n: i32, x: i32, y: i32, t: usize, line: usize, sum: bool): void {
  if (d != s) memory.copy(d, s, <usize>n << 4);
  let left = <usize>f(t + MAP), at = t + MAP + 16, ready = false;
  const yy = <f32>y, stride = (<usize>n + 15) << 2 & ~15;
  while (left > 0) {
    if (yy >= f(at + 4) && yy <= f(at + 12)) {
      const from = max<i32>(0, (<i32>f(at) - x) & ~3), to = min<i32>(n, <i32>f(at + 8) - x + 1);
      if (from < to) {
        if (!ready) { places(line, stride, n, x, y, t); ready = true; }
        stroke(line, stride, x, yy, from, to, t, at);
        const sign = f(at + 16);
        let p = line + 2 * stride + (<usize>from << 2), o = d + (<usize>from << 4);
        const end = line + 2 * stride + (<usize>to << 2);
        do {
          const m = each(p), v = px(o);
          if (sum) put(o, add(v, mul(m, splat(sign))));
          else if (sign > 0) put(o, add(v, mul(sub(splat(1), v), m)));
          else put(o, mul(v, sub(splat(1), m)));
          p += 4; o += 16;
        } while (p < end);
      }
    }
    at += EACH; left--;
  }
}
