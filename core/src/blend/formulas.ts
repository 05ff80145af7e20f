import type { Rgb } from '../pixels/colour';

/** Hard light (W3C Compositing and Blending Level 1, section 10). */
export const hardLit = (b: number, s: number): number => (s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1));

/** Soft light (the same, section 10). */
export function softLit(b: number, s: number): number {
  if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
  const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
  return b + (2 * s - 1) * (d - b);
}

/** Colour dodge and colour burn (the same, section 10). */
export const dodged = (b: number, s: number): number => (b <= 0 ? 0 : s >= 1 ? 1 : Math.min(1, b / (1 - s)));
export const burnt = (b: number, s: number): number => (b >= 1 ? 1 : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s));

/** Lum, Sat, ClipColor, SetLum, SetSat (the same, section 10, non-separable modes). */
export const lum = ([r, g, b]: Rgb): number => 0.3 * r + 0.59 * g + 0.11 * b;
export const sat = (c: Rgb): number => Math.max(...c) - Math.min(...c);

function clip(c: Rgb): Rgb {
  const l = lum(c);
  const n = Math.min(...c);
  const x = Math.max(...c);
  const pull = (v: number): number => {
    // Of a grey that rounding has put a hair outside, nothing is left to be pulled in.
    const up = n < 0 && l > n ? l + ((v - l) * l) / (l - n) : v;
    return x > 1 && x > l ? l + ((up - l) * (1 - l)) / (x - l) : up;
  };
  return [pull(c[0]), pull(c[1]), pull(c[2])];
}

export function setLum(c: Rgb, l: number): Rgb {
  const d = l - lum(c);
  return clip([c[0] + d, c[1] + d, c[2] + d]);
}

/** What spreads less than a sixteenth of an 8-bit level is next to grey: rounding decides its hue, so it is stretched the less the greyer it is. */
const NEAR_GREY = 2 ** -12;

export function setSat(c: Rgb, s: number): Rgb {
  const low = Math.min(...c);
  const range = Math.max(...c) - low;
  const k = range < NEAR_GREY ? (s * range) / NEAR_GREY ** 2 : s / range;
  const stretch = (v: number): number => (v - low) * k;
  return [stretch(c[0]), stretch(c[1]), stretch(c[2])];
}
