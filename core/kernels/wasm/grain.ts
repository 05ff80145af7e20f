/*
 * Film grain: noise on a lattice that belongs to the film, not to the pixels, carried between the lattice points by cubic B-splines (M. Unser 1999),
 * which limit its band. Straight colour; alpha stays.
 */
// @ts-nocheck
import { add, luma, mul, nth, px, put, scramble, splat, sub, unit, withAlpha } from './lanes';

/** The four bytes of the hash in lane `i` as values in 0..255. */
@inline function bytes(h: v128, i: i32): v128 {
  const nought = splat(0);
  if (i == 0) return f32x4.convert_i32x4_s(v128.shuffle<i8>(h, nought, 0, 16, 16, 16, 1, 16, 16, 16, 2, 16, 16, 16, 3, 16, 16, 16));
  if (i == 1) return f32x4.convert_i32x4_s(v128.shuffle<i8>(h, nought, 4, 16, 16, 16, 5, 16, 16, 16, 6, 16, 16, 16, 7, 16, 16, 16));
  if (i == 2) return f32x4.convert_i32x4_s(v128.shuffle<i8>(h, nought, 8, 16, 16, 16, 9, 16, 16, 16, 10, 16, 16, 16, 11, 16, 16, 16));
  return f32x4.convert_i32x4_s(v128.shuffle<i8>(h, nought, 12, 16, 16, 16, 13, 16, 16, 16, 14, 16, 16, 16, 15, 16, 16, 16));
}

/** The four weights of a cubic B-spline at t. */
@inline function weights(t: f32): v128 {
  const v = splat(t), sixth: f32 = 1.0 / 6;
  const c3 = mul(f32x4(-1, 3, -3, 1), splat(sixth)), c2 = mul(f32x4(3, -6, 3, 0), splat(sixth)), c1 = mul(f32x4(-3, 0, 3, 0), splat(sixth)), c0 = mul(f32x4(1, 4, 1, 0), splat(sixth));
  return add(mul(add(mul(add(mul(c3, v), c2), v), c1), v), c0);
}

/**
 * Adds grain to n pixels from (x, y). `cells` is lattice cells for each pixel, up to 1; `amount` the standard deviation at its strongest; `tint` 0 for grey grain, 1 for
 * grain of its own in each colour; `middle` (0..1) how far it keeps to the middle tones. `line` is scratch for n * cells + 8 pixels.
 */
export function grain(d: usize, s: usize, n: i32, x: i32, y: i32, cells: f32, amount: f32, tint: f32, middle: f32, seed: i32, line: usize): void {
  const v: f32 = (<f32>y + <f32>0.5) * cells, row = <i32>v, tv: f32 = v - <f32>row;
  const down = weights(tv), a = nth(down, 0), b = nth(down, 1), c = nth(down, 2), e = nth(down, 3);
  const first = <i32>((<f32>x + <f32>0.5) * cells), last = <i32>((<f32>(x + n) + <f32>0.5) * cells) + 3;
  const rows = v128.xor(i32x4.mul(i32x4.add(i32x4.splat(row), i32x4(0, 1, 2, 3)), i32x4.splat(<i32>0x9e3779b1)), i32x4.splat(seed));
  let column = first, at = line;
  do {
    const h = scramble(v128.xor(i32x4.splat(column * <i32>0x85ebca77), rows));
    const sum = add(add(mul(a, bytes(h, 0)), mul(b, bytes(h, 1))), add(mul(c, bytes(h, 2)), mul(e, bytes(h, 3))));
    put(at, sub(mul(sum, splat(2.0 / 255)), splat(1)));
    at += 16;
  } while (++column <= last);
  const own = splat(tint), k: f32 = amount * <f32>3.6154;
  let i = x;
  const end = x + n;
  do {
    const u: f32 = (<f32>i + <f32>0.5) * cells, whole = <i32>u, t: f32 = u - <f32>whole, p = line + (<usize>(whole - first) << 4);
    const w = weights(t);
    const noise = add(add(mul(nth(w, 0), px(p)), mul(nth(w, 1), px(p + 16))), add(mul(nth(w, 2), px(p + 32)), mul(nth(w, 3), px(p + 48))));
    const grey = v128.shuffle<i32>(noise, noise, 3, 3, 3, 3);
    const colour = px(s), tone = min<f32>(max<f32>(luma(colour), 0), 1), weight: f32 = k * (<f32>1 - middle * (<f32>1 - <f32>4 * tone * (<f32>1 - tone)));
    put(d, withAlpha(add(colour, mul(splat(weight), add(grey, mul(sub(noise, grey), own)))), colour));
    s += 16; d += 16;
  } while (++i < end);
}

/** Which way the film lies under the pixels: bits of `way`. */
const ACROSS_BACK = 1, DOWN_BACK = 2, SWAPPED = 4;

/** The last bytes of four hashes as values in 0..255. */
@inline function lastBytes(h: v128): v128 { return f32x4.convert_i32x4_s(i32x4.shr_u(h, 24)); }
/** The sums of four vectors' lanes. */
@inline function sums(a: v128, b: v128, c: v128, e: v128): v128 {
  const ab = add(v128.shuffle<i32>(a, b, 0, 4, 1, 5), v128.shuffle<i32>(a, b, 2, 6, 3, 7)), ce = add(v128.shuffle<i32>(c, e, 0, 4, 1, 5), v128.shuffle<i32>(c, e, 2, 6, 3, 7));
  return add(v128.shuffle<i32>(ab, ce, 0, 1, 4, 5), v128.shuffle<i32>(ab, ce, 2, 3, 6, 7));
}
@inline function tapped(x: f32, cells: f32, reach: f32, first: i32, table: usize, line: usize): v128 {
  const u: f32 = (x + <f32>0.5) * cells - reach, whole: f32 = floor<f32>(u);
  const w = table + (<usize>(<i32>((u - whole) * <f32>256)) << 5), p = line + (<usize>(<i32>whole + 1 - first) << 2);
  return add(mul(px(w), px(p)), mul(px(w + 16), px(p + 16)));
}

/** `filmGrain` that is alike in all colours: of each lattice point one byte, of four points or pixels at a time. Up to three pixels past n may be written. */
function greyGrain(d: usize, s: usize, n: i32, x: f32, cells: f32, reach: f32, taps: i32, gain: f32, middle: f32, backX: i32, wayX: i32, firstRow: i32, backY: i32, wayY: i32, seed: i32, first: i32, last: i32, across: i32, along: i32, down: usize, table: usize, line: usize): void {
  const step = i32x4.splat(wayX * 4 * across);
  let place = i32x4.mul(i32x4.add(i32x4.splat(backX + wayX * first), i32x4.mul(i32x4(0, 1, 2, 3), i32x4.splat(wayX))), i32x4.splat(across));
  // Pixels read eight points, of which those beyond the taps weigh nothing, but have to be numbers.
  let column = first, at = line;
  do {
    let sum = splat(0), k = 0;
    do {
      const row = i32x4.splat(((backY + wayY * (firstRow + k)) * along) ^ seed);
      sum = add(sum, mul(splat(load<f32>(down + (<usize>k << 2))), lastBytes(scramble(v128.xor(place, row)))));
    } while (++k < taps);
    put(at, sub(mul(sum, splat(2.0 / 255)), splat(1)));
    at += 16; column += 4; place = i32x4.add(place, step);
  } while (column <= last + 8);
  const end = s + (<usize>n << 4), weights = f32x4(0.2126, 0.7152, 0.0722, 0);
  do {
    const noise = sums(tapped(x, cells, reach, first, table, line), tapped(x + 1, cells, reach, first, table, line), tapped(x + 2, cells, reach, first, table, line), tapped(x + 3, cells, reach, first, table, line));
    const a = px(s), b = px(s + 16), c = px(s + 32), e = px(s + 48), tone = unit(sums(mul(a, weights), mul(b, weights), mul(c, weights), mul(e, weights)));
    const four = mul(splat(4), mul(tone, sub(splat(1), tone))), by = mul(noise, mul(splat(gain), sub(splat(1), mul(splat(middle), sub(splat(1), four)))));
    put(d, withAlpha(add(a, nth(by, 0)), a)); put(d + 16, withAlpha(add(b, nth(by, 1)), b)); put(d + 32, withAlpha(add(c, nth(by, 2)), c)); put(d + 48, withAlpha(add(e, nth(by, 3)), e));
    s += 64; d += 64; x += 4;
  } while (s < end);
}

/**
 * Adds grain to n pixels from (x, y), places of the film as the pixels walk over it; each pixel shows the mean over its square. `cells` is lattice points for each pixel, up
 * to 1, `reach` how far before a pixel's middle its first one lies, `taps` (up to 8) how many come in along a side, by the weights in `table`: 8 for each of 256 places
 * between two points. `gain` is the factor of the noise at its strongest. `way` says which way the film lies; `back` what the number of a point is taken from where it runs
 * backwards. `line` is scratch for n * cells + 8 pixels.
 */
export function filmGrain(d: usize, s: usize, n: i32, x: f32, y: f32, cells: f32, reach: f32, taps: i32, gain: f32, tint: f32, middle: f32, seed: i32, way: i32, backX: i32, backY: i32, table: usize, line: usize): void {
  const v: f32 = (y + <f32>0.5) * cells - reach, row: f32 = floor<f32>(v);
  const down = table + (<usize>(<i32>((v - row) * <f32>256)) << 5), firstRow = <i32>row + 1;
  const u0: f32 = (x + <f32>0.5) * cells - reach, first = <i32>floor<f32>(u0) + 1;
  const last = <i32>floor<f32>((x + <f32>(n - 1) + <f32>0.5) * cells - reach) + taps;
  const swapped = (way & SWAPPED) != 0;
  const across: i32 = swapped ? <i32>0x9e3779b1 : <i32>0x85ebca77, along: i32 = swapped ? <i32>0x85ebca77 : <i32>0x9e3779b1;
  if (tint == 0) return greyGrain(d, s, n, x, cells, reach, taps, gain, middle, (way & ACROSS_BACK) ? backX : 0, (way & ACROSS_BACK) ? -1 : 1, firstRow, (way & DOWN_BACK) ? backY : 0, (way & DOWN_BACK) ? -1 : 1, seed, first, last, across, along, down, table, line);
  const back = i32x4.splat(backY);
  let rows0 = i32x4.add(i32x4.splat(firstRow), i32x4(0, 1, 2, 3)), rows1 = i32x4.add(rows0, i32x4.splat(4));
  if (way & DOWN_BACK) { rows0 = i32x4.sub(back, rows0); rows1 = i32x4.sub(back, rows1); }
  rows0 = v128.xor(i32x4.mul(rows0, i32x4.splat(along)), i32x4.splat(seed));
  rows1 = v128.xor(i32x4.mul(rows1, i32x4.splat(along)), i32x4.splat(seed));
  const d0 = load<f32>(down), d1 = load<f32>(down, 4), d2 = load<f32>(down, 8), d3 = load<f32>(down, 12);
  const d4 = load<f32>(down, 16), d5 = load<f32>(down, 20), d6 = load<f32>(down, 24), d7 = load<f32>(down, 28);
  let column = first, at = line;
  do {
    const place = i32x4.splat(((way & ACROSS_BACK) ? backX - column : column) * across);
    let h = scramble(v128.xor(place, rows0));
    let sum = add(add(mul(splat(d0), bytes(h, 0)), mul(splat(d1), bytes(h, 1))), add(mul(splat(d2), bytes(h, 2)), mul(splat(d3), bytes(h, 3))));
    if (taps > 4) {
      h = scramble(v128.xor(place, rows1));
      sum = add(sum, add(add(mul(splat(d4), bytes(h, 0)), mul(splat(d5), bytes(h, 1))), add(mul(splat(d6), bytes(h, 2)), mul(splat(d7), bytes(h, 3)))));
    }
    put(at, sub(mul(sum, splat(2.0 / 255)), splat(1)));
    at += 16;
  } while (++column <= last);
  const own = splat(tint);
  let i = 0;
  do {
    const u: f32 = (x + <f32>i + <f32>0.5) * cells - reach, whole: f32 = floor<f32>(u);
    const w = table + (<usize>(<i32>((u - whole) * <f32>256)) << 5), p = line + (<usize>(<i32>whole + 1 - first) << 4);
    let noise = add(add(mul(splat(load<f32>(w)), px(p)), mul(splat(load<f32>(w, 4)), px(p + 16))), mul(splat(load<f32>(w, 8)), px(p + 32)));
    if (taps > 3) {
      noise = add(noise, add(mul(splat(load<f32>(w, 12)), px(p + 48)), mul(splat(load<f32>(w, 16)), px(p + 64))));
    }
    const grey = v128.shuffle<i32>(noise, noise, 3, 3, 3, 3);
    const colour = px(s), tone = min<f32>(max<f32>(luma(colour), 0), 1), weight: f32 = gain * (<f32>1 - middle * (<f32>1 - <f32>4 * tone * (<f32>1 - tone)));
    put(d, withAlpha(add(colour, mul(splat(weight), add(grey, mul(sub(noise, grey), own)))), colour));
    s += 16; d += 16;
  } while (++i < n);
}
