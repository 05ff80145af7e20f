import type { Matrix } from '../../src/geometry/matrix';
import { mapped } from '../../src/geometry/matrix';
import { decode, encode } from '../../src/pixels/colour';
import { resources } from '../kernels';
import { map, opened, pixel, straight, type Whole } from './picture';

/** Cubic convolution (R. Keys 1981, a = -1/2) at a distance from a pixel's middle. */
function weight(distance: number): number {
  const x = Math.abs(distance);
  if (x >= 2) return 0;
  return x <= 1 ? 1.5 * x ** 3 - 2.5 * x ** 2 + 1 : -0.5 * x ** 3 + 2.5 * x ** 2 - 4 * x + 2;
}

/** A picture of whose pixels about one comes to one of what is made, as large as that, premultiplied and encoded; made anew in linear light between its pixels. */
export function resampled(name: string, to: Matrix, size: Whole): Whole {
  const pixels = resources.pictures.pixelsFor(name, () => 1);
  if (!pixels) throw new Error(`no picture ${name}`);
  const photo = opened(pixels.layout, pixels.bytes);
  const light = map(photo, (i) => {
    const [r, g, b, a] = straight(pixel(photo, i));
    return [decode(r) * a, decode(g) * a, decode(b) * a, a];
  });
  const held = (v: number, n: number): number => Math.min(n - 1, Math.max(0, v));
  return map(size, (i) => {
    const [u, v] = mapped(to, (i % size.width) + 0.5, Math.floor(i / size.width) + 0.5);
    const [x, y] = [u * photo.width - 0.5, v * photo.height - 0.5];
    const sum = [0, 0, 0, 0];
    for (let j = Math.floor(y) - 1; j <= Math.floor(y) + 2; j++)
      for (let k = Math.floor(x) - 1; k <= Math.floor(x) + 2; k++) {
        const share = weight(x - k) * weight(y - j);
        pixel(light, held(j, photo.height) * photo.width + held(k, photo.width)).forEach((value, c) => (sum[c] = (sum[c] as number) + share * value));
      }
    const [r = 0, g = 0, b = 0, raw = 0] = sum;
    const a = Math.min(1, Math.max(0, raw));
    const shown = (value: number): number => encode(Math.min(1, Math.max(0, a > 0 ? value / raw : 0))) * a;
    return [shown(r), shown(g), shown(b), a];
  });
}
