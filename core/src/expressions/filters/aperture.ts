import { spectrumOf } from '../../pixels/fourier';
import { reducingVariance } from '../../pixels/pyramid';
import type { Filter } from './filter';

/** The opening of a lens, whose shape a point of light out of focus takes. */
export interface Aperture {
  /** Radius of the circle around it, in pixels. */
  readonly radiusPx: number;
  /** 0 for a round one, or 5 to 9 straight blades. */
  readonly blades: number;
  /** 0 straight blades, 1 so bent that the opening is round. */
  readonly curve: number;
  /** Clockwise. */
  readonly turnDeg: number;
  /** How wide it is against its height, 0..1: under 1 an oval. */
  readonly squeeze: number;
  /** -1..1: how much brighter its rim is than its middle. */
  readonly rim: number;
  /** It fades from its middle to nothing at its rim, as a bell does. */
  readonly soft: boolean;
  /** How far it is swept while it shrinks to half, in radii; to both sides or to one. */
  readonly sweep: number;
  readonly sweepDeg: number;
  readonly both: boolean;
}

export const round = (radiusPx: number): Aperture => ({
  radiusPx,
  blades: 0,
  curve: 0,
  turnDeg: 0,
  squeeze: 1,
  rim: 0,
  soft: false,
  sweep: 0,
  sweepDeg: 0,
  both: false,
});

export const apertureNumbers = (a: Aperture): number[] => [
  a.radiusPx,
  a.blades,
  a.curve,
  a.turnDeg,
  a.squeeze,
  a.rim,
  a.soft ? 1 : 0,
  a.sweep,
  a.sweepDeg,
  a.both ? 1 : 0,
];
const fromNumbers = (numbers: readonly number[]): Aperture => {
  const [radiusPx = 0, blades = 0, curve = 0, turnDeg = 0, squeeze = 1, rim = 0, soft = 0, sweep = 0, sweepDeg = 0, both = 0] = numbers;
  return { radiusPx, blades, curve, turnDeg, squeeze, rim, soft: soft === 1, sweep, sweepDeg, both: both === 1 };
};

/** From so many small pixels a radius may be worked on at half the size: what is misplaced by that is under two hundredths of the light. */
const LEAST_RADIUS = 26;
/** What the small image is blurred by reducing and growing back is taken out of the kernel again, but for so much variance: with less, rims would ring. */
const LEFT_VARIANCE = 0.2;
/** Places along each side of a pixel at which a shape is looked at. */
const LOOKS = 6;
/** Places along a sweep. */
const SWEPT = 13;

/** How much light passes at a place, in radii from the middle. */
function passes({ blades, curve, turnDeg, squeeze, rim, soft }: Aperture, x: number, y: number): number {
  const turn = (turnDeg * Math.PI) / 180;
  const [u, v] = [(x * Math.cos(turn) + y * Math.sin(turn)) / Math.max(0.05, squeeze), -x * Math.sin(turn) + y * Math.cos(turn)];
  const r = Math.hypot(u, v);
  if (r > 1) return 0;
  const sector = blades < 3 ? 0 : (2 * Math.PI) / blades;
  const way = blades < 3 ? 0 : ((Math.atan2(v, u) % sector) + sector) % sector;
  const straight = blades < 3 ? 1 : Math.cos(sector / 2) / Math.cos(way - sector / 2);
  const t = r / (straight + (1 - straight) * curve);
  if (t > 1) return 0;
  if (soft) return (1 - t * t) ** 2;
  return rim >= 0 ? 1 + 3 * rim * t ** 4 : 1 + 0.9 * rim * t * t;
}

/** A sweep's places in radii, and how large the opening is there. */
function sweepOf({ sweep, sweepDeg, both }: Aperture): readonly (readonly [x: number, y: number, size: number])[] {
  if (sweep === 0) return [[0, 0, 1]];
  const way = (sweepDeg * Math.PI) / 180;
  return Array.from({ length: SWEPT }, (_, i) => {
    const t = both ? (2 * i) / (SWEPT - 1) - 1 : i / (SWEPT - 1);
    return [-Math.sin(way) * sweep * t, Math.cos(way) * sweep * t, 1 - Math.abs(t) / 2];
  });
}

const extent = (a: Aperture): number => a.radiusPx * Math.max(1, a.sweep === 0 ? 1 : 0.5 + Math.abs(a.sweep));

/** Shares of light, by rows, of the pixels about the middle one: 2 reach + 1 of them each way. They sum to 1. */
export function apertureKernel(a: Aperture, factor = 1): { readonly reach: number; readonly shares: Float64Array } {
  const reach = Math.ceil(extent(a) / factor) + 1;
  const side = 2 * reach + 1;
  const whole = new Float64Array(side * side);
  const radius = Math.max(a.radiusPx / factor, 1e-3);
  for (const [sx, sy, size] of sweepOf(a)) {
    const own = radius * size;
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const [dx, dy] = [x - reach - sx * radius, y - reach - sy * radius];
        if (Math.hypot(dx, dy) > own + 1) continue;
        let sum = 0;
        for (let j = 0; j < LOOKS; j++)
          for (let i = 0; i < LOOKS; i++) sum += passes(a, (dx + (i + 0.5) / LOOKS - 0.5) / own, (dy + (j + 0.5) / LOOKS - 0.5) / own);
        whole[y * side + x] = (whole[y * side + x] as number) + sum;
      }
  }
  const spread = Math.max(0, reducingVariance(factor) - LEFT_VARIANCE) / 2;
  const shares = spread > 0 ? sharpened(whole, side, spread) : whole;
  const total = shares.reduce((sum, v) => sum + v, 0);
  if (total <= 0) shares[(side * side - 1) / 2] = 1;
  return { reach, shares: total > 0 ? shares.map((v) => v / total) : shares };
}

/** Less two variances by (-v, 1 + 2v, -v) across and down. */
function sharpened(from: Float64Array, side: number, v: number): Float64Array {
  const along = (values: Float64Array, step: number): Float64Array =>
    values.map((value, i) => {
      const place = step === 1 ? i % side : Math.floor(i / side);
      const before = place > 0 ? (values[i - step] as number) : 0;
      const after = place < side - 1 ? (values[i + step] as number) : 0;
      return (1 + 2 * v) * value - v * (before + after);
    });
  return along(along(from, 1), side);
}

/** Sides of the squares that are transformed: the small one where shapes are so small that no more than a third of it is rim. */
const SMALL = 64;
const LARGE = 256;
const SMALL_REACH = 8;

/**
 * A picture seen through the opening of a lens: each point becomes a shape. Squares of the picture are multiplied by the shape's spectrum (a fast convolution, with the
 * parts of it that wrap round left out: overlap-save, e.g. A. Oppenheim and R. Schafer, "Discrete-Time Signal Processing").
 */
export const aperture: Filter = {
  id: 'aperture',
  factor: (numbers) => {
    const { radiusPx } = fromNumbers(numbers);
    return Math.max(1, 2 ** Math.floor(Math.log2(Math.max(radiusPx, 1) / LEAST_RADIUS)));
  },
  reach: (numbers, factor) => Math.ceil(extent(fromNumbers(numbers)) / factor) + 1,
  table: (numbers, factor) => {
    const { reach, shares } = apertureKernel(fromNumbers(numbers), factor);
    const side = reach <= SMALL_REACH ? SMALL : LARGE;
    const spectrum = spectrumOf(shares, reach, side);
    const turns = Float32Array.from({ length: 2 * side }, (_, i) => (i % 2 === 0 ? Math.cos : Math.sin)((Math.PI * (i - (i % 2))) / side));
    const table = new Float32Array(4 + 2 * side + spectrum.length + shares.length);
    table.set([reach, side, 0, 0]);
    table.set(turns, 4);
    table.set(spectrum, 4 + 2 * side);
    table.set(shares, 4 + 2 * side + spectrum.length);
    return table;
  },
  scratch: () => LARGE * (LARGE * 32 + 256) + 64,
  mean: true,
  cost: 60,
  bind:
    (k) =>
    (d, s, w, h, { left, top, cols, rows }, _ox, _oy, table, scratch) =>
      k.aperture(d, s, w, h, left, top, cols, rows, table, scratch),
};
