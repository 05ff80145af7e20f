import { foliageAt } from './foliage';
import { spotsOf } from './spot';
import type { Bytes } from './bytes';

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
export function factsOf(picture: Bytes): Facts {
  let [foliage, tone, count] = [0, 0, 0];
  for (const spot of spotsOf(picture, LOOKS)) {
    if (spot.chroma > LEAST_CHROMA && foliageAt(spot.hueDeg) > 0.5) foliage++;
    tone += spot.tone;
    count++;
  }
  return { foliage: foliage / count, tone: tone / count };
}
