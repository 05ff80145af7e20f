import { foliageAt } from './foliage';
import { spotsOf, type Spot } from './spot';
import type { Bytes } from './bytes';

const COLOURED = 0.035;
const between = (value: number, least: number, most: number): boolean => value >= least && value <= most;
const share = (of: (spot: Spot) => boolean) => (spot: Spot) => (of(spot) ? 1 : 0);

/** What may be asked of a photo: each a mean over its pixels, 0..1. */
const FACTS = {
  /** Share of pixels in the colours of lit leaves and grass. */
  foliage: share(({ chroma, hueDeg }) => chroma > COLOURED && foliageAt(hueDeg) > 0.5),
  /** Share in the colours of a clear sky. */
  sky: share(({ chroma, hueDeg, tone }) => chroma > 0.02 && between(hueDeg, 205, 275) && tone > 0.3),
  /** Share in the colours of skin, lamps and brick. */
  warm: share(({ chroma, hueDeg }) => chroma > COLOURED && between(hueDeg, 25, 85)),
  /** Share of deep shade. */
  dark: share(({ tone }) => tone < 0.18),
  /** Share of tones near white. */
  bright: share(({ tone }) => tone > 0.85),
  /** How strong the colours are, a third of what a display can show being 1. */
  colour: ({ chroma }: Spot) => Math.min(1, chroma / 0.1),
  /** Mean tone. */
  tone: ({ tone }: Spot) => tone,
} as const;

export type FactName = keyof typeof FACTS;
export const factNames = Object.keys(FACTS) as [FactName, ...FactName[]];

/** What kinds and looks want to know of a photo to say whether they suit it. */
export type Facts = Readonly<Record<FactName, number>>;

const LOOKS = 6000;

/** Facts of a picture, from some thousand of its pixels. */
export function factsOf(picture: Bytes): Facts {
  const sums = new Map(factNames.map((name) => [name, 0]));
  let count = 0;
  for (const spot of spotsOf(picture, LOOKS)) {
    for (const name of factNames) sums.set(name, (sums.get(name) ?? 0) + FACTS[name](spot));
    count++;
  }
  return Object.fromEntries(factNames.map((name) => [name, (sums.get(name) ?? 0) / count])) as unknown as Facts;
}
