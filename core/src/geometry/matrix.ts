/** A projective map of the plane as nine numbers by rows: (x, y) goes to (ax + by + c, dx + ey + f) / (gx + hy + i). */
export type Matrix = readonly [number, number, number, number, number, number, number, number, number];

export const still: Matrix = [1, 0, 0, 0, 1, 0, 0, 0, 1];
export const moveBy = (x: number, y: number): Matrix => [1, 0, x, 0, 1, y, 0, 0, 1];
export const scaleBy = (x: number, y: number): Matrix => [x, 0, 0, 0, y, 0, 0, 0, 1];
export const lean = (x: number, y: number): Matrix => [1, 0, 0, 0, 1, 0, x, y, 1];

/** Clockwise on a screen, where y grows downwards. */
export function turnBy(degrees: number): Matrix {
  const angle = (degrees * Math.PI) / 180;
  const [c, s] = degrees % 90 === 0 ? [Math.round(Math.cos(angle)), Math.round(Math.sin(angle))] : [Math.cos(angle), Math.sin(angle)];
  return [c, -s, 0, s, c, 0, 0, 0, 1];
}

/** The maps one after another, the first one first. */
export const inTurn = (...maps: readonly Matrix[]): Matrix => maps.reduce((first, next) => product(next, first), still);

function product(a: Matrix, b: Matrix): Matrix {
  const at = (row: number, column: number): number =>
    [0, 1, 2].reduce((sum, k) => sum + (a[3 * row + k] as number) * (b[3 * k + column] as number), 0);
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 0), at(1, 1), at(1, 2), at(2, 0), at(2, 1), at(2, 2)];
}

export function mapped([a, b, c, d, e, f, g, h, i]: Matrix, x: number, y: number): [number, number] {
  const w = g * x + h * y + i;
  return [(a * x + b * y + c) / w, (d * x + e * y + f) / w];
}

/** The map that leads back. */
export function inverse([a, b, c, d, e, f, g, h, i]: Matrix): Matrix {
  const [p, q, r] = [e * i - f * h, f * g - d * i, d * h - e * g];
  const whole = a * p + b * q + c * r;
  return [p, c * h - b * i, b * f - c * e, q, a * i - c * g, c * d - a * f, r, b * g - a * h, a * e - b * d].map(
    (v) => v / whole,
  ) as unknown as Matrix;
}
