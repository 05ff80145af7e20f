/*
 * Steps of guided filters (K. He, J. Sun, X. Tang, "Guided Image Filtering", ECCV 2010) with Gaussian windows: means come from the blurs of the
 * engine. Straight colour; alpha stays. `d` may be any of the sources.
 */
// @ts-nocheck
import { add, div, luma, most, mul, px, put, splat, sub, withAlpha } from './lanes';

/** Tone y as (y, y^2, 0). */
export function moments(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { const v = px(s), y = luma(v); put(d, withAlpha(f32x4(y, y * y, 0, 0), v)); s += 16; d += 16; } while (s < end);
}

/** Means of `moments` to the line a y + b that fits best, flattened below a variance of `least`: (a, b, 0). */
export function fitLine(d: usize, s: usize, n: i32, least: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), m = f32x4.extract_lane(v, 0), spread = max<f32>(f32x4.extract_lane(v, 1) - m * m, 0), a = spread / (spread + least);
    put(d, withAlpha(f32x4(a, m - a * m, 0, 0), v));
    s += 16; d += 16;
  } while (s < end);
}

/** What a pixel differs from its base, a y + b, times an amount, added to its colours. */
export function detail(d: usize, s: usize, lines: usize, n: i32, amount: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), t = px(lines), y = luma(v), base = f32x4.extract_lane(t, 0) * y + f32x4.extract_lane(t, 1);
    put(d, withAlpha(add(v, splat((y - base) * amount)), v));
    s += 16; lines += 16; d += 16;
  } while (s < end);
}

/** What red and blue differ from the tone, r and b, as (r, r^2, b, b^2). */
export function chromaMoments(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), y = luma(v), r = f32x4.extract_lane(v, 0) - y, b = f32x4.extract_lane(v, 2) - y;
    put(d, f32x4(r, r * r, b, b * b));
    s += 16; d += 16;
  } while (s < end);
}

/**
 * Means of `chromaMoments` to the lines that give a smoothed r and b by a pixel's own: level where they vary by less than `least`, and the pixel's own where they vary
 * by more, as at the edge of a thing: (slope and offset for r, for b).
 */
export function fitColour(d: usize, s: usize, n: i32, least: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const r = load<f32>(s), b = load<f32>(s, 8), spread = max<f32>(load<f32>(s, 4) - r * r, 0) + max<f32>(load<f32>(s, 12) - b * b, 0), slope: f32 = spread / (spread + least);
    put(d, f32x4(slope, r - slope * r, slope, b - slope * b));
    s += 16; d += 16;
  } while (s < end);
}

/** The colour that lines of `fitColour` make of a pixel; its tone stays. */
export function smoothed(d: usize, s: usize, lines: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), t = px(lines), y = luma(v);
    const r = f32x4.extract_lane(t, 0) * (f32x4.extract_lane(v, 0) - y) + f32x4.extract_lane(t, 1), b = f32x4.extract_lane(t, 2) * (f32x4.extract_lane(v, 2) - y) + f32x4.extract_lane(t, 3);
    const g: f32 = (r * <f32>-0.2126 - b * <f32>0.0722) * <f32>(1.0 / 0.7152);
    put(d, withAlpha(f32x4(y + r, y + g, y + b, 0), v));
    s += 16; lines += 16; d += 16;
  } while (s < end);
}

/** The least channel x as (e^(-steep x), 0, 0), held in 0..1, by a table of it: its mean is a smooth least value of the neighbourhood. */
export function shade(d: usize, s: usize, n: i32, table: usize): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), x = min<f32>(f32x4.extract_lane(v, 0), min<f32>(f32x4.extract_lane(v, 1), f32x4.extract_lane(v, 2)));
    put(d, withAlpha(f32x4(look(min<f32>(max<f32>(x, 0), 1), table), 0, 0, 0), v));
    s += 16; d += 16;
  } while (s < end);
}

/** Share of its darkest channel that clearing may take from a pixel. */
const MOST_TAKEN: f32 = 0.72;

@inline function look(x: f32, table: usize): f32 {
  const t = x * 1023, i = <i32>t, at = table + (<usize>i << 2), low = load<f32>(at);
  return low + (load<f32>(at, 4) - low) * (t - <f32>i);
}

/** Tone y of `s` and the dark channel x that a table makes of the mean of `shade`: (y, y^2, x, x y) with alpha 1 left out. */
export function shadeMoments(d: usize, s: usize, dark: usize, n: i32, table: usize): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), y = luma(v), x = look(min<f32>(max<f32>(f32x4.extract_lane(px(dark), 0), 0), 1), table);
    put(d, f32x4(y, y * y, x, x * y));
    s += 16; dark += 16; d += 16;
  } while (s < end);
}

/** Means of `shadeMoments` to the line a y + b for the dark channel: (a, b, 0, 1). */
export function fitShade(d: usize, s: usize, n: i32, least: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), m = f32x4.extract_lane(v, 0), x = f32x4.extract_lane(v, 2), spread = max<f32>(f32x4.extract_lane(v, 1) - m * m, 0);
    const a = (f32x4.extract_lane(v, 3) - m * x) / (spread + least);
    put(d, f32x4(a, x - a * m, 0, 1));
    s += 16; d += 16;
  } while (s < end);
}

/**
 * Takes haze of a tone off: by the share of it that the lines say, `amount` times; never more than nine tenths. Of the darkest channel at most MOST_TAKEN is taken
 * away, approached smoothly, and of the others as much as goes with it: shade that the lines take for haze is not crushed to black.
 */
export function clear(d: usize, s: usize, lines: usize, n: i32, amount: f32, air: f32): void {
  const end = s + (<usize>n << 4), a = splat(air);
  do {
    const v = px(s), t = px(lines), share = (f32x4.extract_lane(t, 0) * luma(v) + f32x4.extract_lane(t, 1)) / air;
    const through = max<f32>(1 - amount * min<f32>(max<f32>(share, 0), 1), 0.1), more: f32 = <f32>1 / through - <f32>1;
    const least = min<f32>(f32x4.extract_lane(v, 0), min<f32>(f32x4.extract_lane(v, 1), f32x4.extract_lane(v, 2)));
    const q = max<f32>(air - least, 0) * more / max<f32>(MOST_TAKEN * least, 1e-6), q2 = q * q;
    put(d, withAlpha(add(mul(sub(v, a), splat(1 + more / sqrt<f32>(sqrt<f32>(1 + q2 * q2)))), a), v));
    s += 16; lines += 16; d += 16;
  } while (s < end);
}
