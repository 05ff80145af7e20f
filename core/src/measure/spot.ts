import type { Bytes } from './bytes';
import { zoneOf } from './zones';
import { decodeRgb, linearToOklab, luma, type Rgb } from '../pixels/colour';
import { linearFrom, lumaOf, type Gamut } from '../pixels/gamut';

/** What a place of a picture looks like. */
export interface Spot {
  /** Encoded, 0..1. */
  readonly rgb: Rgb;
  /** Luma of the encoded values by what their primaries weigh, 0..1. */
  readonly tone: number;
  /** Stops of light above or below middle grey, 18 % of white. */
  readonly stops: number;
  /** Of the zone system, 0 to 10. */
  readonly zone: number;
  /** OKLab. */
  readonly lightness: number;
  readonly chroma: number;
  readonly hueDeg: number;
}

const GREY = 0.18;
/** Luminance under which stops are counted no further: 14 of them below white. */
const DARKEST = 2 ** -14;

/** The mean of a square of (2 reach + 1) pixels about a place given as shares of width and height; cut to the picture. */
export function spotAt({ width, height, data, colorSpace }: Bytes, u: number, v: number, reach: number): Spot {
  const hold = (x: number, n: number): number => Math.min(n - 1, Math.max(0, Math.floor(x)));
  const [cx, cy] = [hold(u * width, width), hold(v * height, height)];
  const sum = [0, 0, 0];
  let count = 0;
  for (let y = hold(cy - reach, height); y <= hold(cy + reach, height); y++)
    for (let x = hold(cx - reach, width); x <= hold(cx + reach, width); x++) {
      for (let c = 0; c < 3; c++) sum[c] = (sum[c] as number) + (data[(y * width + x) * 4 + c] as number);
      count++;
    }
  const [r = 0, g = 0, b = 0] = sum.map((value) => value / count / 255);
  return spotOf([r, g, b], colorSpace);
}

export function spotOf(rgb: Rgb, gamut: Gamut = 'srgb'): Spot {
  const linear = linearFrom(gamut, decodeRgb(rgb));
  const [lightness, a, b] = linearToOklab(linear);
  const luminance = luma(linear);
  const stops = Math.log2(Math.max(luminance, DARKEST) / GREY);
  return {
    rgb,
    tone: lumaOf(gamut).reduce((sum, weight, c) => sum + weight * (rgb[c] as number), 0),
    stops,
    zone: zoneOf(luminance),
    lightness,
    chroma: Math.hypot(a, b),
    hueDeg: ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360,
  };
}

/** Some of a picture's pixels, evenly picked; at least `looks` of them where there are so many. */
export function* spotsOf({ width, height, data, colorSpace }: Bytes, looks: number): Generator<Spot> {
  const step = Math.max(1, Math.floor((width * height) / looks));
  for (let i = 0; i < width * height; i += step)
    yield spotOf([(data[4 * i] as number) / 255, (data[4 * i + 1] as number) / 255, (data[4 * i + 2] as number) / 255], colorSpace);
}
