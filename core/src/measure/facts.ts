import { foliageAt } from './foliage';
import { spotOf, type Bytes } from './spot';

/** What kinds want to know of a photo to say whether they suit it. */
export interface Facts {
  /** Share of pixels in the colours of lit leaves and grass. */
  readonly foliage: number;
  /** Mean tone, 0..1. */
  readonly tone: number;
}

const LOOKS = 6000;
const LEAST_CHROMA = 0.035;

/** Facts of a picture, from some thousand of its pixels. */
export function factsOf({ width, height, data }: Bytes): Facts {
  const step = Math.max(1, Math.floor((width * height) / LOOKS));
  let [foliage, tone, count] = [0, 0, 0];
  for (let i = 0; i < width * height; i += step) {
    const spot = spotOf([(data[4 * i] as number) / 255, (data[4 * i + 1] as number) / 255, (data[4 * i + 2] as number) / 255]);
    if (spot.chroma > LEAST_CHROMA && foliageAt(spot.hueDeg) > 0.5) foliage++;
    tone += spot.tone;
    count++;
  }
  return { foliage: foliage / count, tone: tone / count };
}
