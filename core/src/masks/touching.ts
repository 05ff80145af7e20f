import type { PhotoProxy } from '../geometry/shape';
import type { Sample } from '../params';
import { decodeRgb, linearToOklab } from '../pixels/colour';
import { linearFrom, type Gamut } from '../pixels/gamut';

/** Pixels of the proxy by which a region is made larger, so that its borders are found on the photo itself. */
const WIDER = 2;

/**
 * What of a photo hangs together with the tapped places, by colours up to a distance in OKLab from theirs: 1 there, 0 elsewhere, for each pixel of its proxy. The proxy
 * is always the same, so preview and file agree.
 */
export function touching({ width, height, pixels }: PhotoProxy, samples: readonly Sample[], distance: number, gamut: Gamut = 'srgb'): Float32Array {
  const like = new Uint8Array(width * height);
  for (let i = 0; i < width * height; i++) {
    const rgb = [0, 1, 2].map((c) => (pixels[3 * i + c] as number) / 255) as [number, number, number];
    const [l, a, b] = linearToOklab(linearFrom(gamut, decodeRgb(rgb)));
    if (samples.some((s) => Math.hypot(l - s.l, a - s.a, b - s.b) <= distance)) like[i] = 1;
  }
  const found = new Float32Array(width * height);
  const edge = Math.max(width, height);
  const held = (v: number, most: number): number => Math.min(most - 1, Math.max(0, Math.floor(v)));
  const heap = samples.map(({ x, y }) => held(y * edge + height / 2, height) * width + held(x * edge + width / 2, width));
  heap.forEach((i) => (found[i] = 1));
  for (let i = heap.pop(); i !== undefined; i = heap.pop()) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const visit = (other: number, within: boolean): void => {
      if (!within || found[other] === 1 || like[other] === 0) return;
      found[other] = 1;
      heap.push(other);
    };
    visit(i - 1, x > 0);
    visit(i + 1, x < width - 1);
    visit(i - width, y > 0);
    visit(i + width, y < height - 1);
  }
  return widened(widened(found, width, height, 1, width), height, width, width, 1);
}

/** The largest value within a few pixels along one way. */
function widened(values: Float32Array, count: number, rows: number, step: number, stride: number): Float32Array {
  const wide = new Float32Array(values.length);
  for (let row = 0; row < rows; row++)
    for (let i = 0; i < count; i++)
      for (let j = Math.max(0, i - WIDER); j <= Math.min(count - 1, i + WIDER); j++)
        if (values[row * stride + j * step] === 1) wide[row * stride + i * step] = 1;
  return wide;
}
