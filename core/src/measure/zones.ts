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

/** Which pixels are clipped: 1 all channels at 0, 2 any channel at 255, 0 neither. */
export function clipped({ width, height, data }: Bytes): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let i = 0; i < out.length; i++) {
    const [r, g, b] = [data[4 * i] as number, data[4 * i + 1] as number, data[4 * i + 2] as number];
    if (r === 255 || g === 255 || b === 255) out[i] = 2;
    else if (r + g + b === 0) out[i] = 1;
  }
  return out;
}
