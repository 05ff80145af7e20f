import { inverse, inTurn, mapped, type Matrix } from '../geometry/matrix';

/** Where a picture lies on the photo: places from the photo's middle in shares of its long edge. */
export interface Placing {
  readonly x: number;
  readonly y: number;
  /** Its width, in shares of the photo's long edge; its height for each width. */
  readonly size: number;
  readonly aspect: number;
  /** Clockwise. */
  readonly angle: number;
  readonly mirrored: boolean;
  /** How far each corner is pulled from where it would be: left above, right above, right below, left below. */
  readonly pulls: readonly (readonly [x: number, y: number])[];
}

export type Corners = readonly [Corner, Corner, Corner, Corner];
export type Corner = readonly [x: number, y: number];

/** The places of its corners: those of the picture itself, from left above on clockwise. */
export function cornersOf({ x, y, size, aspect, angle, mirrored, pulls }: Placing): Corners {
  const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
  const [w, h] = [((mirrored ? -1 : 1) * size) / 2, (size * aspect) / 2];
  const plain = [
    [-w, -h],
    [w, -h],
    [w, h],
    [-w, h],
  ] as const;
  return plain.map(
    ([u, v], i) => [x + u * c - v * s + (pulls[i]?.[0] ?? 0), y + u * s + v * c + (pulls[i]?.[1] ?? 0)] as const,
  ) as unknown as Corners;
}

/** From shares 0..1 of a picture's width and height to where its corners lie (P. Heckbert, "Fundamentals of Texture Mapping and Image Warping", 1989). */
export function toCorners([[x0, y0], [x1, y1], [x2, y2], [x3, y3]]: Corners): Matrix {
  const [dx1, dx2, sx] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, sy] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const whole = dx1 * dy2 - dx2 * dy1;
  const g = Math.abs(whole) < 1e-12 ? 0 : (sx * dy2 - dx2 * sy) / whole;
  const h = Math.abs(whole) < 1e-12 ? 0 : (dx1 * sy - sx * dy1) / whole;
  return [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h, 1];
}

/** Whether corners go round the same way everywhere: only then can a picture lie between them. */
export function isConvex(corners: Corners): boolean {
  const turns = corners.map(([x, y], i) => {
    const [[x1, y1], [x2, y2]] = [corners[(i + 1) % 4] as Corner, corners[(i + 2) % 4] as Corner];
    return (x1 - x) * (y2 - y1) - (y1 - y) * (x2 - x1);
  });
  return turns.every((turn) => turn > 1e-9) || turns.every((turn) => turn < -1e-9);
}

/** From pixels of what is made to shares of the picture. `map` leads from these pixels to places. */
export const toPicture = (map: Matrix, corners: Corners): Matrix => inTurn(map, inverse(toCorners(corners)));

/** The sides of the picture in pixels, as lines a x + b y + c that are positive within, by whole pixels: a, b and c of all four, one after another. */
export function sidesOf(map: Matrix, corners: Corners): number[] {
  const back = inverse(map);
  const at = corners.map(([x, y]) => mapped(back, x, y));
  const area = at.reduce((sum, [x, y], i) => {
    const [nx, ny] = at[(i + 1) % 4] as Corner;
    return sum + x * ny - nx * y;
  }, 0);
  const way = area >= 0 ? 1 : -1;
  const lines = at.map(([x, y], i) => {
    const [nx, ny] = at[(i + 1) % 4] as Corner;
    const length = Math.max(1e-9, Math.hypot(nx - x, ny - y));
    const [a, b] = [(-way * (ny - y)) / length, (way * (nx - x)) / length];
    return [a, b, a * (0.5 - x) + b * (0.5 - y)] as const;
  });
  return [0, 1, 2].flatMap((k) => lines.map((line) => line[k] as number));
}
