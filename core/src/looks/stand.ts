import { z } from 'zod';
import { clamp } from '../clamp';
import type { Bytes } from '../measure/bytes';
import { factsOf } from '../measure/facts';
import { spotsOf } from '../measure/spot';
import { balance } from '../kinds/white-balance';
import { decodeRgb, encode, LMS_TO_LAB, luma, product, RGB_TO_LMS, type Matrix } from '../pixels/colour';
import { linearFrom } from '../pixels/gamut';

const share = (): z.ZodNumber => z.number().min(0).max(1);
/** Where a photo stands before it is treated: what a look was made for, or what it is to be put on. */
export const standSchema = z.strictObject({
  /** Luminance below which lie one, fifty and ninety-nine hundredths of the picture, encoded as sRGB is, 0..1. */
  tones: z.tuple([share(), share(), share()]),
  /** The colour of the light, as the warmth of the white balance under which its colours lie about grey; -1 to 1, warm light below zero. */
  light: z.number().min(-1).max(1),
  /** Shares of the picture in the colours of sky, of leaves, and of skin and lamps, 0..1. */
  sky: share(),
  leaves: share(),
  warm: share(),
});
export type Stand = z.infer<typeof standSchema>;

/** Pixels that are looked at, at least. */
const SAMPLES = 3000;
/** Of those, one in so many is asked for the colour of the light. */
const ASKED = 6;
/** Candidates for the colour of the light: so many on each side of what is believed. */
const STEPS = 12;
/** Chroma, in OKLab at a lightness of 1, within which a colour speaks for being a grey. */
const GREYISH = 0.12;
/** How far lights are looked for at once, as warmth; and how often, each time from what was found. */
const BELIEF = 0.6;
const TIMES = 9;
/** Encoded values under which colours say nothing. */
const DEEP = 0.06;

const { cbrt, exp, max } = Math;

/** Where a picture stands, by some thousand of its pixels. */
export function standOf(picture: Bytes): Stand {
  const luminances: number[] = [];
  const colours: number[] = [];
  for (const { rgb } of spotsOf(picture, SAMPLES)) {
    const linear = linearFrom(picture.colorSpace ?? 'srgb', decodeRgb(rgb));
    luminances.push(luma(linear));
    if (luminances.length % ASKED === 0 && Math.max(...rgb) > DEEP) colours.push(...linear);
  }
  luminances.sort((a, b) => a - b);
  const at = (share: number): number => round(encode(Math.max(0, luminances[Math.floor(share * (luminances.length - 1))] ?? 0)));
  const { sky, foliage, warm } = factsOf(picture);
  return {
    tones: [at(0.01), at(0.5), at(0.99)],
    light: round(lightOf(Float64Array.from(colours))),
    sky: round(sky),
    leaves: round(foliage),
    warm: round(warm),
  };
}

const round = (v: number): number => Math.round(v * 1000) / 1000;

/** The sum, over linear colours that lie one after another, of how much each speaks for being a grey once a matrix has been applied: 0..1 each. */
function greyness(colours: Float64Array, m: Matrix): number {
  const [[m00, m01, m02], [m10, m11, m12], [m20, m21, m22]] = product(RGB_TO_LMS, m);
  const [[l0, l1, l2], [a0, a1, a2], [b0, b1, b2]] = LMS_TO_LAB;
  let sum = 0;
  for (let i = 0; i < colours.length; i += 3) {
    const [x, y, z] = [colours[i] as number, colours[i + 1] as number, colours[i + 2] as number];
    const p = cbrt(m00 * x + m01 * y + m02 * z);
    const q = cbrt(m10 * x + m11 * y + m12 * z);
    const r = cbrt(m20 * x + m21 * y + m22 * z);
    const l = max(0.05, l0 * p + l1 * q + l2 * r);
    const [a, b] = [a0 * p + a1 * q + a2 * r, b0 * p + b1 * q + b2 * r];
    sum += exp((a * a + b * b) / (l * l) / (-2 * GREYISH * GREYISH));
  }
  return sum;
}

/**
 * The warmth of the balance under which the colours of a picture lie about grey as well as they can: the mean of all balances along daylight, each weighed by how many colours it makes greys of, again and
 * again from where the last one ended (a mean shift; Comaniciu and Meer, 2002). What comes of the same picture in another light is that much further on.
 */
function lightOf(colours: Float64Array): number {
  if (colours.length === 0) return 0;
  const steps = Array.from({ length: 2 * STEPS + 1 }, (_, i) => ({ further: i / STEPS - 1, rows: rowsOf(i / STEPS - 1) }));
  let at = 0;
  for (let time = 0; time < TIMES; time++) {
    const here = rowsOf(at);
    let [sum, weight] = [0, 0];
    for (const { further, rows } of steps) {
      const voices = greyness(colours, product(rows, here)) + (0.01 * colours.length) / 3;
      const voice = (voices * Math.exp(-((further / BELIEF) ** 2) / 2)) ** 2;
      sum += voice * further;
      weight += voice;
    }
    at = clamp(at + sum / weight, -1, 1);
  }
  return at;
}
const rowsOf = (warmth: number): Matrix => balance(warmth, 0) as unknown as Matrix;
