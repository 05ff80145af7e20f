import type { Rgb } from '../pixels/colour';
import type { Mode } from './mode';

/** Red, green, blue, alpha, premultiplied. */
export type Pixel = readonly [number, number, number, number];

const straight = ([r, g, b, a]: Pixel): Rgb => (a > 0 ? [r / a, g / a, b / a] : [0, 0, 0]);

/**
 * What a layer makes of a pixel: W3C Compositing and Blending Level 1, section 9, then mixed in by `amount` 0..1. With `keep` 1 the
 * layer lies over the backdrop (source over); with 0 it takes its place (copy), as a layer must that was made from the
 * backdrop itself. This is the readable form; the kernels do the same, four lanes at a time.
 */
export function composite(mode: Mode, under: Pixel, over: Pixel, amount: number, keep: 0 | 1 = 1): Pixel {
  const ab = under[3];
  const as = over[3];
  const lit = mode.blend(straight(under), straight(over));
  const channel = (i: 0 | 1 | 2): number => (1 - ab) * over[i] + ab * as * lit[i] + keep * (1 - as) * under[i];
  const mixed: Pixel = [channel(0), channel(1), channel(2), as + keep * ab * (1 - as)];
  const step = (i: 0 | 1 | 2 | 3): number => under[i] + (mixed[i] - under[i]) * amount;
  return [step(0), step(1), step(2), step(3)];
}
