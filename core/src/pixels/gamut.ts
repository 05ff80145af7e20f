import { unit } from '../clamp';
import { linearToOklab, oklabToLinear, times, type Matrix, type Rgb } from './colour';
import { pressed } from './roll-off';

/** The primaries of a picture; all are encoded as sRGB is, with its white. */
export type Gamut = 'srgb' | 'display-p3';

/** From one linear RGB to the other (CSS Color Module Level 4, sample code for "Conversions"). */
const TO_P3: Matrix = [
  [0.8224619687, 0.1775380313, 0],
  [0.0331941989, 0.9668058011, 0],
  [0.0170826307, 0.0723974407, 0.9105199286],
];
const FROM_P3: Matrix = [
  [1.2249401763, -0.2249401763, 0],
  [-0.0420569547, 1.0420569547, 0],
  [-0.0196375546, -0.0786360456, 1.0982736001],
];
const SAME: Matrix = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** The matrix from linear light of some primaries to that of others. Colours that those cannot hold come out beyond 0..1. */
export function between(from: Gamut, to: Gamut): Matrix {
  if (from === to) return SAME;
  return to === 'srgb' ? FROM_P3 : TO_P3;
}

/** Linear sRGB as linear light of some primaries. */
export const linearIn = (gamut: Gamut, linear: Rgb): Rgb => (gamut === 'srgb' ? linear : times(TO_P3, linear));
/** Linear light of some primaries as linear sRGB. */
export const linearFrom = (gamut: Gamut, linear: Rgb): Rgb => (gamut === 'srgb' ? linear : times(FROM_P3, linear));

/** What red, green and blue of some primaries weigh in luminance: of sRGB as Rec. 709 has it (ITU-R BT.709-6, 3.2), of Display P3 the row for Y of its matrix to XYZ. */
export const lumaOf = (gamut: Gamut = 'srgb'): Rgb => (gamut === 'srgb' ? [0.2126, 0.7152, 0.0722] : [0.229, 0.6917, 0.0793]);

/** Share of what a gamut holds up to which colours stay as they are. */
const KNEE = 0.9;
/** What of a colour lies beyond its edge by so much, as a multiple of what it holds, comes to the edge: a little more than Display P3 has beyond sRGB anywhere. */
const WIDEST = 1.5;
/** How far dark, light and strong colours go towards the grey of middle lightness in the place of their own. */
const TOWARDS_MIDDLE = 0.2;
const HALVINGS = 12;
const EDGE = 1e-6;

/** Steps of lightness and of hue in a table of what a gamut holds. */
export const LIGHTS = 64;
export const HUES = 360;
/** Chroma up to which the edge of a gamut is looked for. */
const [MOST_CHROMA, LOOKS] = [0.5, 32];

/** An angle without angles: 0..4 once around, straight along the sides of a square on its corner. */
const aroundOf = (a: number, b: number): number => {
  const size = Math.max(Math.abs(a) + Math.abs(b), 1e-12);
  return b >= 0 ? 1 - a / size : 3 + a / size;
};
/** The direction at such an angle. */
function directionAt(around: number): readonly [a: number, b: number] {
  const a = around < 2 ? 1 - around : around - 3;
  const b = (1 - Math.abs(a)) * (around < 2 ? 1 : -1);
  const size = Math.hypot(a, b);
  return [a / size, b / size];
}

const held = (linear: Rgb): boolean => linear.every((v) => v >= -EDGE && v <= 1 + EDGE);

function mostChroma(gamut: Gamut, light: number, [a, b]: readonly [number, number]): number {
  const fits = (chroma: number): boolean => held(linearIn(gamut, oklabToLinear([light, a * chroma, b * chroma])));
  let outer = MOST_CHROMA / LOOKS;
  while (outer < MOST_CHROMA && fits(outer)) outer += MOST_CHROMA / LOOKS;
  let inner = outer - MOST_CHROMA / LOOKS;
  for (let i = 0; i < 20; i++) {
    const middle = (inner + outer) / 2;
    if (fits(middle)) inner = middle;
    else outer = middle;
  }
  return inner;
}

/**
 * The chroma that a gamut holds in OKLab: rows for lightnesses 0..1, in each values once around and the first once more. Along blue its edge lies nearly in the direction of
 * one hue, so that it would jump from one hue to the next: neighbours are averaged, and what comes to lie beyond by that is no more than rounding shows.
 */
export function edgeOf(gamut: Gamut): Float32Array {
  const exact = Array.from({ length: HUES }, (_, i) => directionAt((4 * i) / HUES));
  const table = new Float32Array((LIGHTS + 1) * (HUES + 1));
  for (let l = 1; l < LIGHTS; l++) {
    const row = exact.map((direction) => mostChroma(gamut, l / LIGHTS, direction));
    const at = (i: number): number => row[(i + HUES) % HUES] as number;
    for (let i = 0; i <= HUES; i++) table[l * (HUES + 1) + i] = (at(i - 1) + 2 * at(i) + at(i + 1)) / 4;
  }
  return table;
}

const edges = new Map<Gamut, Float32Array>();
const edgeFor = (gamut: Gamut): Float32Array => edges.get(gamut) ?? (edges.set(gamut, edgeOf(gamut)).get(gamut) as Float32Array);

/** What a table says between its values, of a lightness and an angle. */
function chromaAt(table: Float32Array, light: number, around: number): number {
  const [y, x] = [unit(light) * LIGHTS, (around * HUES) / 4];
  const [l, i] = [Math.min(LIGHTS - 1, Math.floor(y)), Math.min(HUES - 1, Math.floor(x))];
  const at = l * (HUES + 1) + i;
  const row = (from: number): number => (table[from] as number) + ((table[from + 1] as number) - (table[from] as number)) * (x - i);
  const [low, high] = [row(at), row(at + HUES + 1)];
  return low + (high - low) * (y - l);
}

/**
 * Linear Display P3, held in 0..1, as linear sRGB. What sRGB cannot hold comes inside at its hue in OKLab, towards a grey near its own lightness (B. Ottosson, "sRGB gamut clipping",
 * 2021, adaptive L0), and not by cutting: what is beyond a knee is pressed together, so that what differed still differs.
 */
export const narrowed = (linear: Rgb): Rgb =>
  broughtIn(linearFrom('display-p3', [unit(linear[0]), unit(linear[1]), unit(linear[2])]), 'srgb', WIDEST);

/**
 * Linear sRGB, which may lie beyond 0..1, as linear light of a gamut that holds it.
 * @param widest colours that far beyond the edge, as a multiple of what the gamut holds, come to lie on it.
 */
export function broughtIn(linear: Rgb, gamut: Gamut, widest: number): Rgb {
  const [lightness, a, b] = linearToOklab(linear);
  const light = unit(lightness);
  const chroma = Math.hypot(a, b);
  const table = edgeFor(gamut);
  const around = aroundOf(a, b);
  const off = light - 0.5;
  const reach = 0.5 + Math.abs(off) + TOWARDS_MIDDLE * chroma;
  const grey = 0.5 * (1 + Math.sign(off) * (reach - Math.sqrt(Math.max(0, reach * reach - 2 * Math.abs(off)))));
  /** How much chroma there is too much at a share of the way from grey. */
  const beyond = (share: number): number => chroma * share - chromaAt(table, grey + share * (light - grey), around);
  let [inner, outer] = [0, 1 / KNEE];
  if (beyond(outer) <= 0) return linearIn(gamut, linear);
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (inner + outer) / 2;
    if (beyond(middle) < 0) inner = middle;
    else outer = middle;
  }
  const [low, high] = [beyond(inner), beyond(outer)];
  const edge = Math.max(1e-6, inner + (outer - inner) * unit(-low / Math.max(1e-9, high - low)));
  const share = edge * pressed(1 / edge, KNEE, widest);
  const [r, g, blue] = linearIn(gamut, oklabToLinear([grey + share * (light - grey), a * share, b * share]));
  return [unit(r), unit(g), unit(blue)];
}
