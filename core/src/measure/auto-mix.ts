import { bands, bandWeights, type BandId } from '../pixels/bands';
import { spotsOf } from './spot';
import type { Bytes } from './bytes';

const LOOKS = 8000;
/** Colours paler than this do not count as belonging to a band. */
const PALE = 0.02;
/** Bands with less of the picture than this are left alone. */
const LEAST_SHARE = 0.015;
const REACH = 0.7;
/** Lightness by which two bands of equal lightness would be parted, warm ones up. */
const PART = 0.12;

/**
 * A monochrome mix that parts the colours of a picture: bands that are lighter than the rest become lighter, darker ones darker; warm colours are led up
 * and cool ones down where lightness alone would not tell them apart. Shares of the bands' range, -1 to 1.
 */
export function autoMix(picture: Bytes): Partial<Record<BandId, number>> {
  const sums = bands.map(() => ({ weight: 0, light: 0 }));
  let count = 0;
  for (const spot of spotsOf(picture, LOOKS)) {
    count++;
    if (spot.chroma < PALE) continue;
    bandWeights(spot.hueDeg).forEach((weight, band) => {
      const sum = sums[band] as (typeof sums)[number];
      sum.weight += weight;
      sum.light += weight * spot.lightness;
    });
  }
  const present = bands
    .map(({ id, hue }, i) => ({ id, hue, ...(sums[i] as (typeof sums)[number]) }))
    .filter(({ weight }) => weight > LEAST_SHARE * count);
  const all = present.reduce((sum, { weight }) => sum + weight, 0);
  if (present.length < 2) return {};
  const warmth = (hue: number): number => Math.cos(((hue - 70) * Math.PI) / 180);
  const placed = present.map(({ id, hue, weight, light }) => ({ id, weight, at: light / weight + PART * warmth(hue) }));
  const mean = placed.reduce((sum, { at, weight }) => sum + at * weight, 0) / all;
  const spread = Math.sqrt(placed.reduce((sum, { at, weight }) => sum + weight * (at - mean) ** 2, 0) / all);
  return Object.fromEntries(placed.map(({ id, at }) => [id, Math.round(100 * REACH * Math.tanh((at - mean) / (spread + 0.02))) / 100]));
}
