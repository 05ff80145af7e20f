import type { Rows } from '../expressions/image';
import { lightMatrix } from '../expressions/colour';
import { linearToXyz, type Rgb, xyzToLinear } from '../pixels/colour';
import { defineKind } from './define';
import { percent } from '../params';
import { clamp } from '../clamp';
import { inverse, type Matrix } from '../geometry/matrix';

/** How far the warmth reaches, in mireds (millionths of a reciprocal kelvin): 4000 K to 17000 K about the daylight of sRGB. */
const REACH_MIRED = 96;
const D65_MIRED = 1e6 / 6504;
/** How far the tint reaches, across the locus in CIE 1960 v. */
const REACH_TINT = 0.022;

/** CIE daylight locus (CIE 15:2018, 4.1.2), 4000 to 25000 K, as CIE 1931 x, y. */
export function daylight(kelvin: number): readonly [number, number] {
  const t = 1e3 / kelvin;
  const x = kelvin <= 7000 ? 0.244063 + 0.09911 * t + 2.9678 * t ** 2 - 4.607 * t ** 3 : 0.23704 + 0.24748 * t + 1.9018 * t ** 2 - 2.0064 * t ** 3;
  return [x, -3 * x * x + 2.87 * x - 0.275];
}

/** Bradford cone responses (CIE 159:2004; CSS Color Module Level 4). */
const BRADFORD: Rows = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];
const FROM_BRADFORD: Rows = [
  [0.9869929, -0.1470543, 0.1599627],
  [0.4323053, 0.5183603, 0.0492912],
  [-0.0085287, 0.0400428, 0.9684867],
];

const times = (m: Rows, [x, y, z]: Rgb): Rgb => m.map(([a = 0, b = 0, c = 0]) => a * x + b * y + c * z) as unknown as Rgb;

/** Light as if it came from a warmer or cooler, greener or pinker source: cone responses are scaled from one white to the other, in linear light. */
export const whiteBalance = defineKind({
  id: 'white-balance',
  family: 'colour',
  label: 'White balance',
  note: 'Warmer or cooler, greener or pinker light.',
  space: 'linear',
  params: {
    warmth: percent({ label: 'Warmth', min: -1 }),
    tint: percent({ label: 'Tint', min: -1 }),
  },
  byDefault: 'neutral',
  shown: { warmth: 0.5 },
  work: (read, { warmth, tint }, { gamut }) => (warmth === 0 && tint === 0 ? read : lightMatrix(read, balance(warmth, tint), gamut)),
});

/** The matrix on linear sRGB that makes the light of a source look white; middle grey keeps its luminance. */
export function balance(warmth: number, tint: number): Rows {
  const [from, to] = [white(D65_MIRED - REACH_MIRED * warmth, REACH_TINT * tint), white(D65_MIRED, 0)];
  const [a, b] = [times(BRADFORD, from), times(BRADFORD, to)];
  const adapted = (rgb: Rgb): Rgb => {
    const [l, m, s] = times(BRADFORD, linearToXyz(rgb));
    return xyzToLinear(times(FROM_BRADFORD, [(l * b[0]) / a[0], (m * b[1]) / a[1], (s * b[2]) / a[2]]));
  };
  const [red, green, blue] = [adapted([1, 0, 0]), adapted([0, 1, 0]), adapted([0, 0, 1])];
  const grey = [0, 1, 2].map((i) => (red[i] as number) + (green[i] as number) + (blue[i] as number)) as unknown as Rgb;
  const keep = 1 / linearToXyz(grey)[1];
  const row = (i: 0 | 1 | 2): number[] => [red[i] * keep, green[i] * keep, blue[i] * keep];
  return [row(0), row(1), row(2)];
}

/**
 * The warmth and tint under which what is seen at a place would be grey: the inverse of `balance`, held at the ends of both.
 * @param linear linear sRGB as it is seen, balanced as `chosen` says; of any brightness.
 */
export function balanceOfGrey(linear: Rgb, chosen: { readonly warmth: number; readonly tint: number }): { warmth: number; tint: number } {
  const undo = inverse(balance(chosen.warmth, chosen.tint).flat() as unknown as Matrix);
  const cones = (rgb: Rgb): Rgb => times(BRADFORD, linearToXyz(rgb));
  const [held, grey] = [cones(times([undo.slice(0, 3), undo.slice(3, 6), undo.slice(6)], linear)), cones([1, 1, 1])];
  const to = times(BRADFORD, white(D65_MIRED, 0));
  // The white that a balance must come from, so that this comes to be grey.
  const [x, y, z] = times(FROM_BRADFORD, [(held[0] * to[0]) / grey[0], (held[1] * to[1]) / grey[1], (held[2] * to[2]) / grey[2]]);
  const sum = x + 15 * y + 3 * z;
  if (!(sum > 0)) return { ...chosen };
  const [u, v] = [(4 * x) / sum, (6 * y) / sum];
  let [cool, warm] = [-1, 1];
  for (let i = 0; i < 40; i++) {
    const middle = (cool + warm) / 2;
    // Sources are yellower, and further along in u, the more mireds they have; a balance for them is a cooler one.
    if (locus(D65_MIRED - REACH_MIRED * middle)[0] > u) cool = middle;
    else warm = middle;
  }
  const warmth = (cool + warm) / 2;
  return { warmth, tint: clamp((v - locus(D65_MIRED - REACH_MIRED * warmth)[1]) / REACH_TINT, -1, 1) };
}

/** The daylight locus in CIE 1960 u, v. */
function locus(mired: number): readonly [number, number] {
  const [x, y] = daylight(1e6 / mired);
  return [(4 * x) / (12 * y - 2 * x + 3), (6 * y) / (12 * y - 2 * x + 3)];
}

function white(mired: number, across: number): Rgb {
  const [u, along] = locus(mired);
  const v = along + across;
  const [nx, ny] = [(3 * u) / (2 * u - 8 * v + 4), (2 * v) / (2 * u - 8 * v + 4)];
  return [nx / ny, 1, (1 - nx - ny) / ny];
}
