import { gaussian, point, sum, type Image, type Table } from './image';

/** A base that keeps edges: guided filter of the tones (K. He et al. 2010), as lines to be used by `detail`. */
export const base = (from: Image, sigmaPx: number, leastVariance: number): Image =>
  gaussian(point('fitLine', [gaussian(point('moments', [from]), sigmaPx)], [leastVariance]), sigmaPx);
/** What differs from the base, added `amount` times. */
export const detail = (from: Image, lines: Image, amount: number): Image => point('detail', [from, lines], [amount]);

/** e^(-steep x) over 0..1, and back, 1024 steps and one more. */
const darkness = (steep: number): Table => ({
  id: `darkness ${steep}`,
  make: () => Float32Array.from({ length: 1025 }, (_, i) => Math.exp((-steep * i) / 1023)),
});
const lightness = (steep: number): Table => ({
  id: `lightness ${steep}`,
  make: () => Float32Array.from({ length: 1025 }, (_, i) => Math.min(1, -Math.log(Math.max(i / 1023, 1e-4)) / steep)),
});
const STEEP = 8;

/** How hazy each place is, as lines to be used by `clear`: dark channel (K. He et al. 2009) with a smooth least value, refined along the picture's edges. */
export function haze(from: Image, nearPx: number, widePx: number): Image {
  const dark = gaussian(point('shade', [from], [], darkness(STEEP)), nearPx);
  const moments = gaussian(point('shadeMoments', [from, dark], [], lightness(STEEP)), widePx);
  return gaussian(point('fitShade', [moments], [1e-3]), widePx);
}
/** Takes haze of a tone off. */
export const clear = (from: Image, lines: Image, amount: number, air: number): Image => point('clear', [from, lines], [amount, air]);

/** What tones differ from their blur, added: amount, the least difference, and how far light and dark rims go at most. */
export const crisp = (from: Image, blurred: Image, amount: number, threshold: number, light: number, dark: number): Image =>
  point('crisp', [from, blurred], [amount, threshold, light, dark]);

/** Light that spreads far in a long tail: a sum of three Gaussians whose shares are 1 together, so that no light is lost. */
export const longTail = (from: Image, sigmaPx: number): Image =>
  sum(sum(gaussian(from, 0.35 * sigmaPx), gaussian(from, sigmaPx), 0.5, 0.3), gaussian(from, 2.6 * sigmaPx), 1, 0.2);

/** A colour from pixels times coverage, blurred by its own way: what no amount let through is not in it. Where nothing is near, the image stays as it is. */
export const amongst = (from: Image, coverage: Image, blurred: (of: Image) => Image): Image =>
  point('evened', [from, blurred(point('weighed', [from, coverage]))]);
