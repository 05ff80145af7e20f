import type { Whole } from './picture';

/** Standard deviations after which nothing is left of a Gaussian. */
const FAR = 5;

/** Gaussian blur by its sums, across and down; the border pixel goes on for ever. */
export function gaussian(image: Whole, sigma: number): Whole {
  return along(along(image, sigma, 1), sigma, image.width);
}

function along({ width, height, at }: Whole, sigma: number, stride: number): Whole {
  const radius = Math.ceil(FAR * sigma);
  const weights = Float64Array.from({ length: 2 * radius + 1 }, (_, k) => Math.exp(-((k - radius) ** 2) / (2 * sigma * sigma)));
  const sum = weights.reduce((total, w) => total + w, 0);
  const out = new Float64Array(at.length);
  const last = stride === 1 ? width - 1 : height - 1;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [i, place] = [y * width + x, stride === 1 ? x : y];
      for (let k = -radius; k <= radius; k++) {
        const weight = (weights[k + radius] as number) / sum;
        const from = 4 * (i + (Math.min(last, Math.max(0, place + k)) - place) * stride);
        for (let c = 0; c < 4; c++) out[4 * i + c] = (out[4 * i + c] as number) + weight * (at[from + c] as number);
      }
    }
  return { width, height, at: out };
}
