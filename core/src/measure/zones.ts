import { linearFrom } from '../pixels/gamut';
import { decode } from '../pixels/colour';
import type { Bytes } from './bytes';

/** Zones 0 to X of the zone system (A. Adams): zone V is middle grey, 18 % of white; each is a stop from the next. */
export const ZONES = 11;
const MIDDLE = 5;
const GREY = 0.18;
export const zoneNames = ['0', 'I', 'II', 'III', 'IV', 'V', 'VI', 'VII', 'VIII', 'IX', 'X'] as const;

/** The zone of a relative luminance, 0..10. */
export const zoneOf = (luminance: number): number =>
  luminance <= 0 ? 0 : Math.min(ZONES - 1, Math.max(0, Math.round(MIDDLE + Math.log2(luminance / GREY))));

/** An encoded level 0..255 for each zone, evenly apart to the eye, so that neighbours can be told. */
export const zoneLevel = (zone: number): number => Math.round((255 * zone) / (ZONES - 1));

const linear = Float64Array.from({ length: 256 }, (_, i) => decode(i / 255));
/** Least luminance of each zone but the first. */
const bounds = Array.from({ length: ZONES - 1 }, (_, i) => GREY * 2 ** (i + 0.5 - MIDDLE));

/** A picture in eleven flat greys, one for each zone. */
export function zoned({ width, height, data }: Bytes): Uint8ClampedArray {
  const out = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < out.length; i += 4) {
    const y = 0.2126 * at(data[i]) + 0.7152 * at(data[i + 1]) + 0.0722 * at(data[i + 2]);
    let zone = 0;
    while (zone < ZONES - 1 && y >= (bounds[zone] as number)) zone++;
    const level = zoneLevel(zone);
    out[i] = out[i + 1] = out[i + 2] = level;
    out[i + 3] = 255;
  }
  return out;
}

const at = (level: number | undefined): number => linear[level ?? 0] as number;

/** Linear light beyond 0..1 that counts as outside sRGB: about half a level of 8 bits near black and white. */
const OUTSIDE = 2e-3;
/** Whether sRGB cannot hold a colour of Display P3, given in levels of 8 bits. */
function isOutside(r: number, g: number, b: number): boolean {
  return linearFrom('display-p3', [at(r), at(g), at(b)]).some((v) => v < -OUTSIDE || v > 1 + OUTSIDE);
}

/** What share of a picture sRGB cannot hold, 0..1, by some of its pixels; nothing of one that is in sRGB. */
export function outsideSrgb({ width, height, data, colorSpace }: Bytes): number {
  if (colorSpace !== 'display-p3') return 0;
  const step = Math.max(1, Math.floor((width * height) / LOOKS));
  let [count, outside] = [0, 0];
  for (let i = 0; i < width * height; i += step, count++)
    if (isOutside(data[4 * i] as number, data[4 * i + 1] as number, data[4 * i + 2] as number)) outside++;
  return outside / count;
}
/** Pixels that are looked at, at least where there are so many. */
const LOOKS = 60_000;

/** Which pixels are clipped: 1 all channels at 0, 2 any channel at 255, 3 a colour that sRGB cannot hold, 0 none of these. */
export function clipped({ width, height, data, colorSpace }: Bytes): Uint8Array {
  const out = new Uint8Array(width * height);
  const wide = colorSpace === 'display-p3';
  for (let i = 0; i < out.length; i++) {
    const [r, g, b] = [data[4 * i] as number, data[4 * i + 1] as number, data[4 * i + 2] as number];
    if (r === 255 || g === 255 || b === 255) out[i] = 2;
    else if (r + g + b === 0) out[i] = 1;
    else if (wide && isOutside(r, g, b)) out[i] = 3;
  }
  return out;
}
