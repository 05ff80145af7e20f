/** A sampled Gaussian is cut before its first weight that lies so many standard deviations out: a thousandth of its peak. */
const CUT = 3.72;
/** The least standard deviation that a sampled Gaussian at reduced size may have: keeps the response to a single pixel within 0.4 % of its peak. */
const LEAST_SIGMA = 1.5;
const MOST_FACTOR = 1024;

/** Weights of a sampled Gaussian from the centre out, radius + 1 of them, that sum to 1 over both sides. */
export function gaussianTaps(sigma: number): Float32Array {
  const radius = Math.max(1, Math.ceil(CUT * sigma) - 1);
  const taps = Array.from({ length: radius + 1 }, (_, i) => Math.exp((-i * i) / (2 * sigma * sigma)));
  const sum = taps.reduce((total, t, i) => total + (i === 0 ? t : 2 * t), 0);
  return Float32Array.from(taps, (t) => t / sum);
}

/** The variance that halving down to a factor and growing back add, in pixels of the small image: see `pyramidFor`. */
export const reducingVariance = (factor: number): number =>
  factor === 1 ? 0 : ((5 * (factor * factor - 1)) / 12 - (factor >= 4 ? 0.5 : 0) - (factor >= 8 ? 2 : 0)) / (factor * factor) + 1 / 3;

export interface Pyramid {
  /** How many times smaller the blurred image is: a power of two; 1 means a direct filter. */
  readonly factor: number;
  readonly taps: Float32Array;
  /** How far the filter at reduced size reads. */
  readonly radius: number;
  /** Cubic B-spline weights, four for each of `factor` phases, then the phases 0..1 (M. Unser, "Splines: a perfect fit", 1999). */
  readonly weights: Float32Array;
  /** How far the small image begins before the large one, in pixels of the large one, less half a pixel and one small pixel. */
  readonly origin: number;
}

/**
 * How a Gaussian is made. Halving with (1 5 10 10 5 1)/32 down to factor D has a variance of 5 (D^2 - 1)/12, growing back with
 * a cubic B-spline D^2/3; the small Gaussian makes up the rest. The first two halvings are by (1 3 3 1)/8 where another one follows: its variance is 3/4 in
 * place of 5/4, the second time counted in pixels that are twice as wide. (P. Burt and E. Adelson 1983; survey: P. Getreuer, IPOL 2013.)
 */
export function pyramidFor(sigma: number): Pyramid {
  let factor = 1;
  let small = sigma;
  for (let d = 2; d <= MOST_FACTOR; d *= 2) {
    const variance = (sigma * sigma) / (d * d) - reducingVariance(d);
    if (variance < LEAST_SIGMA * LEAST_SIGMA) break;
    factor = d;
    small = Math.sqrt(variance);
  }
  const taps = gaussianTaps(small);
  return { factor, taps, radius: taps.length - 1, ...grownBy(factor) };
}

/** The same for an image that has the reduced size already, as what was blurred before: only growing back adds to the small Gaussian. */
export function pyramidOfSmall(sigma: number, factor: number): Pyramid {
  const taps = gaussianTaps(Math.sqrt((sigma * sigma) / (factor * factor) - 1 / 3));
  return { factor, taps, radius: taps.length - 1, ...grownBy(factor) };
}

/** How an image that is so many times smaller is grown back. */
export const grownBy = (factor: number): Pick<Pyramid, 'weights' | 'origin'> => ({ weights: splineWeights(factor), origin: (7 * factor - 8) / 2 });

function splineWeights(factor: number): Float32Array {
  const phases = Array.from({ length: factor }, (_, p) => {
    const t = (p + 0.5) / factor;
    const u = 1 - t;
    return [u ** 3 / 6, (3 * t ** 3 - 6 * t ** 2 + 4) / 6, (3 * u ** 3 - 6 * u ** 2 + 4) / 6, t ** 3 / 6];
  });
  return Float32Array.from([...phases.flat(), ...phases.map((_, p) => (p + 0.5) / factor)]);
}

/** Sizes from full to the smallest: each half of the one before, and four more, so that first and last hold nothing but the border. */
export function pyramidSizes(width: number, height: number, factor: number): { width: number; height: number }[] {
  const sizes = [{ width, height }];
  for (let d = 1; d < factor; d *= 2) {
    const last = sizes[sizes.length - 1] as { width: number; height: number };
    sizes.push({ width: halved(last.width), height: halved(last.height) });
  }
  return sizes;
}

/** Pixels of a line at half size. */
export const halved = (n: number): number => Math.floor(n / 2) + 4;
