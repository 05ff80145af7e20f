/*
 * Masks: how much of a layer lands where. An amount, 0 to 1, stands in all four lanes of its pixel. Places are those of the photo, in shares of its long edge: a table
 * begins with the projective map that leads to them from whole pixels, nine floats by rows in room for twelve.
 */
// @ts-nocheck
import { abs, add, div, each, f, least, luma, most, mul, nth, px, put, smooth, splat, straight, sub, toneOf, unit, withAlpha } from './lanes';

/** Floats of a table before what belongs to its shape, in bytes. */
const MAP: usize = 48;

@inline function spread(d: usize, m: v128): void {
  put(d, nth(m, 0)); put(d + 16, nth(m, 1)); put(d + 32, nth(m, 2)); put(d + 48, nth(m, 3));
}
@inline function pixelsFrom(x: i32): v128 { return add(splat(<f32>x), f32x4(0, 1, 2, 3)); }
/** One row of the map at (x, y). */
@inline function row(t: usize, xs: v128, y: f32): v128 { return add(mul(each(t), xs), splat(f(t + 4) * y + f(t + 8))); }

/**
 * Coverage of an oval: 1 within its inner border, 0 beyond its outer one, smooth between. After the map: centre, cosine and sine of its angle, one over its two radii, how far it
 * is a box (0..1), one over the share between the borders. Works on four pixels at a time.
 */
export function oval(d: usize, n: i32, x: i32, y: i32, t: usize): void {
  const end = d + (<usize>n << 4), p = t + MAP, yy = <f32>y;
  const cx = each(p), cy = each(p + 4), co = each(p + 8), si = each(p + 12), ix = each(p + 16), iy = each(p + 20), box = each(p + 24), slope = each(p + 28);
  let xs = pixelsFrom(x);
  do {
    const w = div(splat(1), row(t + 24, xs, yy)), u = sub(mul(row(t, xs, yy), w), cx), v = sub(mul(row(t + 12, xs, yy), w), cy);
    const a = least(abs(mul(add(mul(u, co), mul(v, si)), ix)), splat(1000)), b = least(abs(mul(sub(mul(v, co), mul(u, si)), iy)), splat(1000));
    const a2 = mul(a, a), b2 = mul(b, b), a4 = mul(a2, a2), b4 = mul(b2, b2);
    const round = f32x4.sqrt(add(a2, b2)), square = f32x4.sqrt(f32x4.sqrt(f32x4.sqrt(add(mul(a4, a4), mul(b4, b4)))));
    spread(d, smooth(unit(mul(sub(splat(1), add(round, mul(sub(square, round), box))), slope))));
    xs = add(xs, splat(4)); d += 64;
  } while (d < end);
}

/**
 * Coverage of a strip: after the map a place and a direction across it, then where along that direction it begins, one over the length of that, where it ends, and one over the
 * length of that. Works on four pixels at a time.
 */
export function strip(d: usize, n: i32, x: i32, y: i32, t: usize): void {
  const end = d + (<usize>n << 4), p = t + MAP, yy = <f32>y;
  const cx = each(p), cy = each(p + 4), nx = each(p + 8), ny = each(p + 12), from = each(p + 16), rise = each(p + 20), to = each(p + 24), fall = each(p + 28);
  let xs = pixelsFrom(x);
  do {
    const w = div(splat(1), row(t + 24, xs, yy)), u = sub(mul(row(t, xs, yy), w), cx), v = sub(mul(row(t + 12, xs, yy), w), cy);
    const way = add(mul(u, nx), mul(v, ny));
    spread(d, mul(smooth(unit(mul(sub(way, from), rise))), smooth(unit(mul(sub(to, way), fall)))));
    xs = add(xs, splat(4)); d += 64;
  } while (d < end);
}

/** Coverage from a small map of the whole photo, by straight lines between its pixels: after the map its width, height and how many of its pixels go to 1, then its values. */
export function mapped(d: usize, n: i32, x: i32, y: i32, t: usize): void {
  const end = d + (<usize>n << 4), p = t + MAP, width = <i32>f(p), height = <i32>f(p + 4), k = f(p + 8), values = p + 16, yy = <f32>y;
  let xx = <f32>x;
  do {
    const w: f32 = <f32>1 / (f(t + 24) * xx + f(t + 28) * yy + f(t + 32));
    const u: f32 = (f(t) * xx + f(t + 4) * yy + f(t + 8)) * w * k + <f32>width * <f32>0.5 - <f32>0.5, v: f32 = (f(t + 12) * xx + f(t + 16) * yy + f(t + 20)) * w * k + <f32>height * <f32>0.5 - <f32>0.5;
    const a: f32 = min<f32>(max<f32>(u, 0), <f32>(width - 1)), b: f32 = min<f32>(max<f32>(v, 0), <f32>(height - 1));
    const i = <i32>a, j = <i32>b, s: f32 = a - <f32>i, r: f32 = b - <f32>j;
    const over = i + 1 < width ? 4 : 0, below = j + 1 < height ? width << 2 : 0, at = values + (<usize>(j * width + i) << 2);
    const up: f32 = f(at) + (f(at + over) - f(at)) * s, down: f32 = f(at + below) + (f(at + below + over) - f(at + below)) * s;
    put(d, splat(up + (down - up) * r));
    xx += 1; d += 16;
  } while (d < end);
}

/** Coverage of tones, by what red, green and blue weigh: none up to `from`, all from one over `rise` further on, and back down to none at `to`. Straight colour. */
export function tones(d: usize, s: usize, n: i32, from: f32, rise: f32, to: f32, fall: f32, red: f32, green: f32, blue: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const y = toneOf(px(s), red, green, blue);
    put(d, mul(smooth(unit(splat((y - from) * rise))), smooth(unit(splat((to - y) * fall)))));
    s += 16; d += 16;
  } while (s < end);
}

/** Coverage of colours: 1 up to a distance in OKLab from the nearest of a table's colours, then smoothly none. The table: how many, the distance, one over what it takes to fall; then L, a, b and a spare float each. */
export function colours(d: usize, s: usize, n: i32, t: usize): void {
  const end = s + (<usize>n << 4), last = t + 16 + (<usize>f(t) << 4), near = f(t + 4), fall = f(t + 8);
  do {
    const v = px(s);
    let nearest: f32 = 1e9, p = t + 16;
    do {
      const o = sub(v, px(p)), o2 = mul(o, o);
      nearest = min<f32>(nearest, f32x4.extract_lane(o2, 0) + f32x4.extract_lane(o2, 1) + f32x4.extract_lane(o2, 2));
      p += 16;
    } while (p < last);
    put(d, smooth(unit(splat(<f32>1 - (sqrt<f32>(nearest) - near) * fall))));
    s += 16; d += 16;
  } while (s < end);
}

/** Coverage of edges, from means of `moments`: what tones vary by in the neighbourhood. */
export function edges(d: usize, s: usize, n: i32, from: f32, rise: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const m = f(s), vary: f32 = sqrt<f32>(max<f32>(f(s + 4) - m * m, 0));
    put(d, smooth(unit(splat((vary - from) * rise))));
    s += 16; d += 16;
  } while (s < end);
}

/** gain * amount + offset, held in 0..1. */
export function scaled(d: usize, s: usize, n: i32, gain: f32, offset: f32): void {
  const end = s + (<usize>n << 4), g = splat(gain), o = splat(offset);
  do { put(d, unit(add(mul(px(s), g), o))); s += 16; d += 16; } while (s < end);
}

/** One of two coverage or the other: 1 - (1 - a)(1 - b). */
export function either(d: usize, s: usize, b: usize, n: i32): void {
  const end = s + (<usize>n << 4), one = splat(1);
  do { put(d, sub(one, mul(sub(one, px(s)), sub(one, px(b))))); s += 16; b += 16; d += 16; } while (s < end);
}

/** Both of two coverage: a b. */
export function both(d: usize, s: usize, b: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { put(d, mul(px(s), px(b))); s += 16; b += 16; d += 16; } while (s < end);
}

/** Tone y and amount p as (y, y^2, p, p y): for a guided filter of coverage. Straight colour. */
export function amountMoments(d: usize, s: usize, b: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { const y = luma(px(s)), p = f(b); put(d, f32x4(y, y * y, p, p * y)); s += 16; b += 16; d += 16; } while (s < end);
}

/** The amount that lines of `fitShade` make of a tone. */
export function guided(d: usize, s: usize, lines: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { put(d, unit(splat(f(lines) * luma(px(s)) + f(lines + 4)))); s += 16; lines += 16; d += 16; } while (s < end);
}

/** Pixels times their coverage: what a blur of only a part is made from. */
export function weighed(d: usize, s: usize, b: usize, n: i32): void { both(d, s, b, n); }

/** The colour that was blurred of `weighed` pixels, by the weight that is left in their fourth number; where there is next to none, the pixel's own. Straight colour. */
export function evened(d: usize, s: usize, b: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), w = px(b), weight = nth(w, 3);
    put(d, withAlpha(v128.bitselect(div(w, most(weight, splat(1e-4))), v, f32x4.gt(weight, splat(1e-4))), v));
    s += 16; b += 16; d += 16;
  } while (s < end);
}

/** Numbers that were blurred with weights, by what was blurred of the weights. */
export function shared(d: usize, s: usize, b: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { put(d, div(px(s), most(px(b), splat(1e-4)))); s += 16; b += 16; d += 16; } while (s < end);
}

/** Coverage as greys. */
export function greys(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { put(d, f32x4.replace_lane(px(s), 3, 1)); s += 16; d += 16; } while (s < end);
}

/** Whether coverage that stands in pixels is k all along. */
export function holds(s: usize, n: i32, k: f32): bool {
  const end = s + (<usize>n << 4);
  do { if (f(s) != k) return false; s += 16; } while (s < end);
  return true;
}

/** A row of coverage, one float each, times those that stand in pixels. */
export function lets(coverage: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { store<f32>(coverage, f(coverage) * f(s)); s += 16; coverage += 4; } while (s < end);
}

/** 2^x for x held in -24..24, to 2e-7 of itself. Taylor's series of e^(r ln 2) over half a unit both ways. */
@inline function power(x: f32): f32 {
  const held: f32 = min<f32>(max<f32>(x, -24), 24), whole: f32 = nearest<f32>(held), r: f32 = (held - whole) * <f32>0.6931471805599453;
  const p: f32 = <f32>1 + r * (<f32>1 + r * (<f32>0.5 + r * (<f32>(1.0 / 6) + r * (<f32>(1.0 / 24) + r * (<f32>(1.0 / 120) + r * <f32>(1.0 / 720))))));
  return p * reinterpret<f32>((<i32>whole + 127) << 23);
}

/**
 * Linear light changed by stops that stand in pixels, times `stops`. `whites` (0..1) spares what is bright by its luminance where light is taken away. With `soft` 1 what is
 * given bends towards white and never reaches beyond it, and next to black little is given or taken. Straight colour.
 */
export function exposed(d: usize, s: usize, map: usize, n: i32, stops: f32, whites: f32, soft: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), y = luma(v), bright: f32 = max<f32>(f32x4.extract_lane(v, 0), max<f32>(f32x4.extract_lane(v, 1), f32x4.extract_lane(v, 2)));
    let ev: f32 = f(map) * stops;
    const white: f32 = min<f32>(max<f32>((y - <f32>0.5) * <f32>2.5, 0), 1);
    if (ev < 0) ev *= <f32>1 - whites * white * white * (<f32>3 - <f32>2 * white);
    const peak: f32 = min<f32>(max<f32>(bright, 0), 1);
    ev *= <f32>1 - soft * <f32>0.004 / (peak + <f32>0.004);
    let gain: f32 = power(ev);
    if (gain > 1) gain /= <f32>1 + soft * (gain - <f32>1) * peak;
    put(d, withAlpha(mul(v, splat(gain)), v));
    s += 16; map += 16; d += 16;
  } while (s < end);
}

/** The lesser of two coverage. */
export function lesser(d: usize, s: usize, b: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { put(d, least(px(s), px(b))); s += 16; b += 16; d += 16; } while (s < end);
}

/**
 * How far out of an oval places lie: 0 within it, 1 from where it ends, smooth between. After the map: centre, cosine and sine of its angle, one over its two radii, how far it is
 * a box (0..1), a spare float, then how far it goes on until its end in shares of the radius: to the right, left, down and up, as the oval lies.
 */
export function beyond(d: usize, n: i32, x: i32, y: i32, t: usize): void {
  const end = d + (<usize>n << 4), p = t + MAP, yy = <f32>y;
  const cx = f(p), cy = f(p + 4), co = f(p + 8), si = f(p + 12), ix = f(p + 16), iy = f(p + 20), box = f(p + 24), right = f(p + 32), left = f(p + 36), down = f(p + 40), up = f(p + 44);
  let xx = <f32>x;
  do {
    const w: f32 = <f32>1 / (f(t + 24) * xx + f(t + 28) * yy + f(t + 32)), u: f32 = (f(t) * xx + f(t + 4) * yy + f(t + 8)) * w - cx, v: f32 = (f(t + 12) * xx + f(t + 16) * yy + f(t + 20)) * w - cy;
    const a: f32 = (u * co + v * si) * ix, b: f32 = (v * co - u * si) * iy, a2: f32 = min<f32>(a * a, 1e6), b2: f32 = min<f32>(b * b, 1e6), r2: f32 = a2 + b2 + <f32>1e-12, r: f32 = sqrt<f32>(r2);
    const a8: f32 = a2 * a2 * a2 * a2, b8: f32 = b2 * b2 * b2 * b2, out: f32 = r + (sqrt<f32>(sqrt<f32>(sqrt<f32>(a8 + b8))) - r) * box;
    const long: f32 = ((a > 0 ? right : left) * a2 + (b > 0 ? down : up) * b2) / r2;
    put(d, smooth(unit(splat((out - <f32>1) / long))));
    xx += 1; d += 16;
  } while (d < end);
}

/** How far pixels lie within a shape of four straight sides: each counts by the share of a pixel that lies on its inner side. A table: a, b, c of each side, a x + b y + c pixels within. */
export function quad(d: usize, n: i32, x: i32, y: i32, t: usize): void {
  const end = d + (<usize>n << 4), yy = splat(<f32>y);
  const a = px(t), b = px(t + 16), c = px(t + 32);
  let xx = <f32>x;
  do {
    const within = unit(add(add(add(mul(a, splat(xx)), mul(b, yy)), c), splat(0.5)));
    put(d, splat(f32x4.extract_lane(within, 0) * f32x4.extract_lane(within, 1) * f32x4.extract_lane(within, 2) * f32x4.extract_lane(within, 3)));
    xx += 1; d += 16;
  } while (d < end);
}

/** The straight colour of pixels that are told as numbers, as an opaque one; and their alpha as coverage. */
export function colourOf(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { const v = px(s); put(d, f32x4.replace_lane(straight(v, nth(v, 3)), 3, 1)); s += 16; d += 16; } while (s < end);
}
export function alphaOf(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { put(d, nth(px(s), 3)); s += 16; d += 16; } while (s < end);
}
