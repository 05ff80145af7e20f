import type { Bytes } from './bytes';
import { decodeRgb, linearToOklab } from '../pixels/colour';

/** Tones over this level that differ by less than so many levels between their channels are clean whites. */
const BRIGHT = 245;
const CLEAN = 3;
/** A wash of less than this share of the picture, or of less lightness, is not worth words. */
const LEAST_SHARE = 0.002;
const LEAST_LOSS = 0.01;

export interface Wash {
  /** Share of the pixels that were bright and clean, 0..1. */
  readonly share: number;
  /** What they lose of their OKLab lightness, on average; negative where they gain. */
  readonly loss: number;
}

/** How much a layer dulls what was bright and clean before. Both pictures are of one size. */
export function washOf(before: Bytes, after: Bytes): Wash {
  const { width, height, data } = before;
  let [count, loss] = [0, 0];
  for (let i = 0; i < data.length; i += 4) {
    const [r, g, b] = [data[i] as number, data[i + 1] as number, data[i + 2] as number];
    const least = Math.min(r, g, b);
    if (least <= BRIGHT || Math.max(r, g, b) - least >= CLEAN) continue;
    count++;
    loss += lightness(r, g, b) - lightness(after.data[i] as number, after.data[i + 1] as number, after.data[i + 2] as number);
  }
  return { share: count / (width * height), loss: count === 0 ? 0 : loss / count };
}

/** Whether a wash is worth telling. */
export const isWashed = ({ share, loss }: Wash): boolean => share >= LEAST_SHARE && loss >= LEAST_LOSS;

const lightness = (r: number, g: number, b: number): number => linearToOklab(decodeRgb([r / 255, g / 255, b / 255]))[0];
