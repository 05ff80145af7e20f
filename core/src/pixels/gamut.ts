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

/** Share of the chroma that sRGB holds up to which colours stay as they are. */
const KNEE = 0.9;
/** Chroma, as a multiple of what sRGB holds, that comes to its edge: a little more than Display P3 has anywhere. */
const WIDEST = 1.5;
const EDGE = 1e-5;
const HALVINGS = 20;

const fits = (linear: Rgb): boolean => linear.every((v) => v >= -EDGE && v <= 1 + EDGE);

/**
 * Linear Display P3 as linear sRGB. What sRGB cannot hold comes inside by its chroma alone, at its lightness and hue in OKLab (CSS Color Module Level 4, 13.2), and not by
 * cutting: chroma beyond a knee is pressed together, so that what differed still differs.
 */
export function narrowed(linear: Rgb): Rgb {
  const plain = linearFrom('display-p3', linear);
  const [lightness, a, b] = linearToOklab(plain);
  const at = (light: number, share: number): Rgb => oklabToLinear([light, a * share, b * share]);
  if (fits(at(lightness, 1 / KNEE))) return plain;
  const light = unit(lightness);
  let [inner, outer] = [0, 1 / KNEE];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (inner + outer) / 2;
    if (fits(at(light, middle))) inner = middle;
    else outer = middle;
  }
  const [r, g, blue] = at(light, inner * pressed(1 / Math.max(inner, 1e-6), KNEE, WIDEST));
  return [unit(r), unit(g), unit(blue)];
}
