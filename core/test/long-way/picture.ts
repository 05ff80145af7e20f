import { bytesPerPixel, type Layout } from '../../src/pixels/picture';

/** A whole image in double precision: four values a pixel, red, green, blue and alpha, premultiplied; or four numbers of which none is alpha. */
export interface Whole {
  readonly width: number;
  readonly height: number;
  readonly at: Float64Array;
}

export type Four = [number, number, number, number];

export const pixel = ({ at }: Whole, i: number): Four => [
  at[4 * i] as number,
  at[4 * i + 1] as number,
  at[4 * i + 2] as number,
  at[4 * i + 3] as number,
];

/** Each pixel by itself. */
export function map({ width, height }: Whole, f: (i: number) => readonly number[]): Whole {
  const at = new Float64Array(4 * width * height);
  for (let i = 0; i < width * height; i++) {
    const v = f(i);
    // Written one by one: to set four at a time from a list takes ten times as long.
    for (let c = 0; c < 4; c++) at[4 * i + c] = v[c] as number;
  }
  return { width, height, at };
}

export const straight = ([r, g, b, a]: Four): Four => (a > 0 ? [r / a, g / a, b / a, a] : [0, 0, 0, a]);
export const premultiplied = ([r, g, b, a]: Four): Four => [r * a, g * a, b * a, a];

/** A photo's bytes: straight, encoded, 8 bits or 16 little-endian, opaque unless it has a fourth channel. */
export function opened(layout: Layout, bytes: Uint8Array): Whole {
  const { width, height, depth, channels } = layout;
  const size = bytesPerPixel(layout);
  const sample = (i: number, c: number): number => {
    if (depth === 8) return (bytes[i * size + c] as number) / 255;
    return ((bytes[i * size + 2 * c] as number) + 256 * (bytes[i * size + 2 * c + 1] as number)) / 65535;
  };
  const blank = { width, height, at: new Float64Array() };
  return map(blank, (i) => premultiplied([sample(i, 0), sample(i, 1), sample(i, 2), channels === 4 ? sample(i, 3) : 1]));
}
