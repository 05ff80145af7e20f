import type { Filter } from './filter';

/** From so many small pixels a brush may be worked on at half the size. */
const LEAST_RADIUS = 4;
/** What edges are smoothed by before their way is told, in pixels of the image that is worked on. */
export const WAY_SIGMA = 2;
const WAY_REACH = 6;
/** How much longer than wide a stroke gets along a clear edge, at most. */
const LONGEST = 2;

/**
 * Brush strokes along the picture's own edges: an anisotropic Kuwahara filter with polynomial weights (J. Kyprianidis, H. Kang and J. Döllner, "Image and Video
 * Abstraction by Anisotropic Kuwahara Filtering", 2009; J. Kyprianidis, A. Semmo, H. Kang and J. Döllner, 2010, for the weights). Numbers: the radius of a brush in
 * pixels, how far strokes follow edges 0..1, and how hard one area stands against the next 0..1.
 */
export const painterly: Filter = {
  id: 'painterly',
  factor: ([radius = 0]) => Math.max(1, 2 ** Math.floor(Math.log2(Math.max(radius, 1) / LEAST_RADIUS))),
  reach: ([radius = 0], factor) => Math.ceil((LONGEST * radius) / factor) + WAY_REACH + 2,
  table: ([radius = 0, flow = 0, hardness = 0], factor) => {
    const taps = Array.from({ length: WAY_REACH + 1 }, (_, i) => Math.exp((-i * i) / (2 * WAY_SIGMA * WAY_SIGMA)));
    const sum = taps.reduce((total, t, i) => total + (i === 0 ? t : 2 * t), 0);
    return Float32Array.from([radius / factor, flow, hardness, WAY_REACH, ...taps.map((t) => t / sum)]);
  },
  scratch: (w, h) => 2 * (w * h + 64) * 16 + (w + 2 * WAY_REACH + 16) * 16,
  mean: false,
  cost: 700,
  bind:
    (k) =>
    (d, s, w, h, { left, top, cols, rows }, _ox, _oy, table, scratch) =>
      k.painterly(d, s, w, h, left, top, cols, rows, table, scratch),
};
