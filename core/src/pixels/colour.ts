import { unit } from '../clamp';

/**
 * Colour spaces of the engine. RGB rows are red, green, blue (or X, Y, Z, or L, a, b); sRGB white is 1, 1, 1. All
 * functions work beyond 0..1 too: the transfer function is continued as an odd function.
 */
export type Rgb = readonly [number, number, number];

/** sRGB transfer function, linear light to encoded value (IEC 61966-2-1:1999, 5.2). */
export function encode(linear: number): number {
  const size = Math.abs(linear);
  return Math.sign(linear) * (size <= 0.0031308 ? 12.92 * size : 1.055 * size ** (1 / 2.4) - 0.055);
}

/** sRGB transfer function, encoded value to linear light (IEC 61966-2-1:1999, 5.2). */
export function decode(encoded: number): number {
  const size = Math.abs(encoded);
  return Math.sign(encoded) * (size <= 0.04045 ? size / 12.92 : ((size + 0.055) / 1.055) ** 2.4);
}

export type Matrix = readonly [Rgb, Rgb, Rgb];

/** Linear sRGB to CIE XYZ, D65, exact rationals (CSS Color Module Level 4, sample code for "Conversions"). */
const RGB_TO_XYZ: Matrix = [
  [506752 / 1228815, 87881 / 245763, 12673 / 70218],
  [87098 / 409605, 175762 / 245763, 12673 / 175545],
  [7918 / 409605, 87881 / 737289, 1001167 / 1053270],
];
const XYZ_TO_RGB: Matrix = [
  [12831 / 3959, -329 / 214, -1974 / 3959],
  [-851781 / 878810, 1648619 / 878810, 36519 / 878810],
  [705 / 12673, -2585 / 12673, 705 / 667],
];

/** Linear sRGB to cone-like responses, and their cube roots to OKLab (B. Ottosson, "A perceptual color space for image processing", 2020). */
export const RGB_TO_LMS: Matrix = [
  [0.4122214708, 0.5363325363, 0.0514459929],
  [0.2119034982, 0.6806995451, 0.1073969566],
  [0.0883024619, 0.2817188376, 0.6299787005],
];
export const LMS_TO_LAB: Matrix = [
  [0.2104542553, 0.793617785, -0.0040720468],
  [1.9779984951, -2.428592205, 0.4505937099],
  [0.0259040371, 0.7827717662, -0.808675766],
];
const LAB_TO_LMS = inverse(LMS_TO_LAB);
const LMS_TO_RGB = inverse(RGB_TO_LMS);

/** A colour through a matrix, given by rows. */
export const times = (m: Matrix, [a, b, c]: Rgb): Rgb => [
  m[0][0] * a + m[0][1] * b + m[0][2] * c,
  m[1][0] * a + m[1][1] * b + m[1][2] * c,
  m[2][0] * a + m[2][1] * b + m[2][2] * c,
];

/** What comes of a colour through the second of two matrices and then the first. */
export function product(m: Matrix, n: Matrix): Matrix {
  const column = (i: 0 | 1 | 2): Rgb => times(m, [n[0][i], n[1][i], n[2][i]]);
  const [x, y, z] = [column(0), column(1), column(2)];
  return [
    [x[0], y[0], z[0]],
    [x[1], y[1], z[1]],
    [x[2], y[2], z[2]],
  ];
}

function inverse([[a, b, c], [d, e, f], [g, h, i]]: Matrix): Matrix {
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return [
    [(e * i - f * h) / det, (c * h - b * i) / det, (b * f - c * e) / det],
    [(f * g - d * i) / det, (a * i - c * g) / det, (c * d - a * f) / det],
    [(d * h - e * g) / det, (b * g - a * h) / det, (a * e - b * d) / det],
  ];
}

const map = ([a, b, c]: Rgb, f: (v: number) => number): Rgb => [f(a), f(b), f(c)];

export const linearToXyz = (rgb: Rgb): Rgb => times(RGB_TO_XYZ, rgb);
export const xyzToLinear = (xyz: Rgb): Rgb => times(XYZ_TO_RGB, xyz);
export const encodeRgb = (rgb: Rgb): Rgb => map(rgb, encode);
export const decodeRgb = (rgb: Rgb): Rgb => map(rgb, decode);

/** Linear sRGB to OKLab: lightness 0..1, a and b about -0.4..0.4. */
export const linearToOklab = (rgb: Rgb): Rgb => times(LMS_TO_LAB, map(times(RGB_TO_LMS, rgb), Math.cbrt));
/** OKLab to linear sRGB. */
export const oklabToLinear = (lab: Rgb): Rgb =>
  times(
    LMS_TO_RGB,
    map(times(LAB_TO_LMS, lab), (v) => v ** 3),
  );

/** Tone of a pixel: Rec. 709 luma of encoded values (ITU-R BT.709-6, 3.2). */
export const luma = ([r, g, b]: Rgb): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/** A colour of an OKLab lightness, chroma and hue in degrees, for a screen: `#rrggbb`, held inside sRGB. */
export function hexOf(lightness: number, chroma: number, hueDeg: number): string {
  const hue = (hueDeg * Math.PI) / 180;
  const rgb = encodeRgb(oklabToLinear([lightness, chroma * Math.cos(hue), chroma * Math.sin(hue)]));
  return `#${rgb
    .map((v) =>
      Math.round(255 * unit(v))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}
