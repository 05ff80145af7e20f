import { gaussian, mix, type Image } from '../expressions/image';
import { both, scaled } from '../expressions/coverage';
import { amongst } from '../expressions/detail';

/** The least blur that is worth a level, in pixels, and how many levels there are at most. */
const LEAST_PX = 0.8;
const MOST_LEVELS = 14;

/** A level takes in what is blurred by more than so much of the level before, and by no more than so many times the next one. */
const NEARLY = 0.75;
const PAST = 1.25;

/** So that rounding leaves nothing of the level before where the map has reached the next one: what counts nowhere is not made. */
const ALL = 1 + 2e-6;

/** How a picture is blurred as a whole: by how far, in pixels. */
export interface Blurring {
  readonly by: (of: Image, px: number) => Image;
  /** How much further each level blurs than the one before: as far as the way from one to the next is not seen as two pictures. */
  readonly ratio: number;
}

interface Lamps {
  readonly lit: Image;
  readonly finish: (image: Image) => Image;
}

export const byGaussian: Blurring = { by: gaussian, ratio: 2 };

/** Under so many pixels nobody tells two discs apart: there levels may stand further from each other. */
const SMALL_PX = 12;
const SMALL_RATIO = 2;

/** Blurs from the least to the most, in pixels. */
export function levelsTo(mostPx: number, ratio: number): number[] {
  const levels = [mostPx];
  const next = (px: number): number => px / (px <= SMALL_PX ? Math.max(SMALL_RATIO, ratio) : ratio);
  while ((levels[0] as number) > LEAST_PX * SMALL_RATIO && levels.length < MOST_LEVELS) levels.unshift(next(levels[0] as number));
  return levels;
}

/**
 * A picture blurred from place to place: as far as a map says, 0..1 of the most. It is made of levels, each blurred everywhere alike, between which the squares of the
 * blurs go over evenly, as variances add up. A level takes in only what is itself blurred about as far: so what is sharp throws no light on what is blurred around it,
 * and leaves no dark seam there.
 * @param lamps what is blurred, where that is not the picture itself, and what becomes of each level.
 */
export function varied(
  read: Image,
  map: Image,
  mostPx: number,
  { by, ratio }: Blurring,
  { lit, finish }: Lamps = { lit: read, finish: (image) => image },
): Image {
  if (mostPx < LEAST_PX / 4) return read;
  const levels = levelsTo(mostPx, ratio).map((px) => px / mostPx);
  return levels.reduce((image, share, i) => {
    const [before, after] = [levels[i - 1] ?? 0, levels[i + 1]];
    const from = NEARLY * before;
    const rising = scaled(map, 1 / (share - from), -from / (share - from));
    const near = after === undefined ? rising : both(rising, scaled(map, -1 / (after * (PAST - 1)), PAST / (PAST - 1)));
    const level = finish(amongst(lit, near, (of) => by(of, share * mostPx)));
    const way = 1 / (share * share - before * before);
    return mix('normal', image, level, 1, scaled(both(map, map), way * ALL, -before * before * way));
  }, read);
}
