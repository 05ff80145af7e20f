import { mapped } from '../geometry/matrix';
import type { FilmPlace } from '../geometry/shape';

/**
 * What of the lattice that film grain is drawn on comes into one pixel. Grain is noise on a lattice carried by cubic B-splines (M. Unser 1999); a pixel shows its mean over the
 * pixel's square, so that a small rendering has what is left of a large one that is reduced.
 */
export interface GrainTaps {
  /** Lattice points to a pixel's side, as the loop walks: those of the film up to 1, else those of the pixels. */
  readonly cells: number;
  /** How far before a pixel's middle its first point lies, in points. */
  readonly reach: number;
  /** Points along a side that come in: at most `MOST_TAPS`. */
  readonly taps: number;
  /** What noise of a uniform byte is multiplied by to have the standard deviation 1 on the film, in this many pixels. */
  readonly gain: number;
  /** Makes the weights of the points for each of `PHASES` places between two of them, `MOST_TAPS` each; they sum to 1. It is work, and done once for a table. */
  readonly weights: () => Float32Array;
}

export const PHASES = 256;
export const MOST_TAPS = 8;
/** One over the deviation of a uniform byte, in -1..1, carried by splines both ways. */
const TO_ONE = 3.6154;

/** The integral of the cubic B-spline up to u. */
function risen(u: number): number {
  if (u <= -2) return 0;
  if (u >= 2) return 1;
  if (u > 0) return 1 - risen(-u);
  const a = u + 2;
  // The spline on each side of -1, integrated.
  return u <= -1 ? a ** 4 / 24 : 1 / 24 + (2 * (u + 1)) / 3 - (u ** 3 + 1) / 3 - (u ** 4 - 1) / 8;
}

/** The mean of the spline over a pixel of some cells, at a distance from its middle. */
const meanOver = (distance: number, cells: number): number => (risen(distance + cells / 2) - risen(distance - cells / 2)) / cells;

/** Share of the noise's power along one side that is left in pixels of so many cells (with white noise 1): the sum over the mean spline's own squares. */
function powerLeft(cells: number): number {
  const steps = 400;
  const half = 2 + cells / 2;
  let sum = 0;
  for (let i = 0; i < steps; i++) sum += meanOver(-half + ((i + 0.5) * 2 * half) / steps, cells) ** 2;
  return ((sum * 2 * half) / steps) * cells;
}

/** What comes into a pixel of so many lattice points to its side. */
export function grainTaps(cells: number): GrainTaps {
  if (cells > 1) return { cells: 1, reach: 2.25, taps: 3, gain: TO_ONE / cells, weights: () => ofPixels(cells) };
  const taps = 4 + Math.ceil(cells);
  return { cells, reach: 2 + cells / 2, taps, gain: TO_ONE, weights: () => ofFilm(cells, taps) };
}

function ofFilm(cells: number, taps: number): Float32Array {
  const weights = new Float32Array(PHASES * MOST_TAPS);
  for (let p = 0; p < PHASES; p++) for (let k = 0; k < taps; k++) weights[p * MOST_TAPS + k] = meanOver(p / PHASES + cells / 2 + 1 - k, cells);
  return weights;
}

/** Of several points to a pixel's side there is one left. Its neighbours weigh as much as two pixels have in common: w + 2 n = 1, and w^2 + 2 n^2 is the power left. */
function ofPixels(cells: number): Float32Array {
  const weights = new Float32Array(PHASES * MOST_TAPS);
  const power = Math.min(1, powerLeft(cells));
  const next = (4 - Math.sqrt(16 - 24 * (1 - power))) / 12;
  for (let p = 0; p < PHASES; p++) weights.set([next, 1 - 2 * next, next], p * MOST_TAPS);
  return weights;
}

/** How the film lies under the pixels, as the loop reads it (`filmGrain` in kernels). */
export interface FilmOrientation {
  /** Bits: it runs backwards across, backwards down, its sides are exchanged. */
  readonly way: number;
  /** Where on the film the first pixel lies, in pixels, as the pixels walk over it. */
  readonly left: number;
  readonly top: number;
  /** What the number of a lattice point is taken from where it runs backwards. */
  readonly backX: number;
  readonly backY: number;
}

const NEAR = 1e-4;

/** @param onFilm whether the lattice is that of the film: its points lie at whole numbers, and those of pixels between two. */
export function orientationOf({ map, edge, x, y }: FilmPlace, onFilm: boolean): FilmOrientation {
  const [o, across, down, both] = [mapped(map, 0, 0), mapped(map, 1, 0), mapped(map, 0, 1), mapped(map, 1, 1)];
  const step = (a: readonly number[], axis: 0 | 1): number => edge * ((a[axis] as number) - o[axis]);
  const [ax, ay, dx, dy] = [step(across, 0), step(across, 1), step(down, 0), step(down, 1)];
  const is = (v: number, wanted: number): boolean => Math.abs(Math.abs(v) - wanted) < NEAR;
  const straight = is(ax, 1) && is(ay, 0) && is(dx, 0) && is(dy, 1);
  const turned = is(ax, 0) && is(ay, 1) && is(dx, 1) && is(dy, 0);
  const flat = is(step(both, 0) - ax - dx, 0) && is(step(both, 1) - ay - dy, 0);
  if (!flat || (!straight && !turned)) return { way: 0, left: x, top: y, backX: 0, backY: 0 };
  const [alongX, alongY] = turned ? [Math.sign(ay), Math.sign(dx)] : [Math.sign(ax), Math.sign(dy)];
  const [fromX, fromY] = turned ? [o[1], o[0]] : [o[0], o[1]];
  // From the film's middle, which lies on a pixel's edge or in its middle.
  const half = (v: number): number => Math.round(2 * v * edge) / 2;
  const [left, top] = [alongX * half(fromX), alongY * half(fromY)];
  const back = (from: number): number => (onFilm ? 0 : Number.isInteger(from) ? -1 : -2);
  return { way: Number(alongX < 0) + 2 * Number(alongY < 0) + 4 * Number(turned), left, top, backX: back(left), backY: back(top) };
}
