import type { FilmPlace } from '../geometry/shape';
import { blurMap, focuses, newFocus } from '../focus/focus';
import { byGaussian, varied, type Blurring } from '../focus/varied';
import type { Image } from '../expressions/image';
import { defineKind, type Kind } from './define';
import { angle, choice, percent, type Focus, type Values } from '../params';
import { blurRadius, crisped, lensParams, liftedBy, opening, openingOf, softened, through } from './lens';

/** How much further each level of a lens blurs than the one before: a point seen on the way between two is a disc within a fainter one. */
const LENS_RATIO = 1.6;
/** A Gaussian of this share of a disc's radius spreads as far. */
const SPREAD = 0.5;

const params = (at: readonly Focus[]) => ({
  radius: blurRadius(0.007),
  focus: focuses(at),
  by: choice('Blurred by', [
    { id: 'lens', label: 'A lens' },
    { id: 'soft', label: 'Softening' },
  ]),
  ...lensParams,
  opening,
  stretch: percent({ label: 'Stretch', min: -1, max: 1 }),
  sides: choice('Stretched', [
    { id: 'one', label: 'To one side' },
    { id: 'both', label: 'To both sides' },
  ]),
  way: angle({ label: 'Stretched along', min: -180, max: 180 }),
  contrast: percent({ label: 'Contrast', min: -0.5, max: 1 }),
  saturation: percent({ label: 'Saturation', min: -1, max: 1 }),
});
type FocusParams = ReturnType<typeof params>;

/** How far a stretch of 100 % sweeps a disc, in radii. */
const SWEEP = 1.2;

function blurringOf({ by, opening: name, stretch, sides, way }: Values<FocusParams>): Blurring {
  if (by === 'soft' && stretch === 0) return { ...byGaussian, by: (of, px) => byGaussian.by(of, px * SPREAD) };
  const swept = { sweep: SWEEP * stretch, sweepDeg: way, both: sides === 'both', soft: by === 'soft' };
  return { by: (of, px) => through(of, { ...openingOf(name, px), ...swept }), ratio: LENS_RATIO };
}

function work(read: Image, values: Values<FocusParams>, place: FilmPlace): Image {
  const { focus, radius, lift, threshold, by, contrast, saturation } = values;
  const crisp = crisped(read, contrast, saturation, place.gamut);
  if (radius === 0) return crisp;
  const map = blurMap(focus, place);
  // Lamps are lifted as far as they are blurred.
  const wanted = by === 'lens' ? lift : 0;
  const lamps = { lit: liftedBy(crisp, map, wanted, threshold), finish: (image: Image) => softened(image, wanted) };
  return varied(crisp, map, radius * place.edge, blurringOf(values), lamps);
}

const focusKind = <const Id extends string>(
  kind: Pick<Kind<Id>, 'id' | 'label' | 'note' | 'byDefault'>,
  at: readonly Focus[],
  variants: NonNullable<Kind<Id, FocusParams>['variants']> = [],
): Kind<Id, FocusParams> =>
  defineKind({
    ...kind,
    family: 'focus',
    space: 'linear',
    params: params(at),
    variants,
    map: ({ focus }, place) => blurMap(focus, place),
    work,
  });

/** A sharp strip, as in a view from above that looks like a model. */
export const bandFocus = focusKind(
  {
    id: 'band-focus',
    label: 'Band focus',
    note: 'Only a strip is sharp, as if a view were a model.',
    byDefault: 'A level strip across the middle is sharp.',
  },
  [newFocus('band', 'band')],
  [
    { label: 'Model town', params: { contrast: 0.18, saturation: 0.35, radius: 0.009 } },
    { label: 'Soft strip', params: { by: 'soft', radius: 0.012 } },
    { label: 'Swept', params: { stretch: 0.8, radius: 0.008 } },
  ],
);

/** A sharp oval; several may be joined. */
export const ovalFocus = focusKind(
  { id: 'oval-focus', label: 'Oval focus', note: 'Only an oval is sharp; there may be several.', byDefault: 'An oval in the middle is sharp.' },
  [newFocus('oval', 'oval')],
  [
    { label: 'Dream', params: { by: 'soft', radius: 0.014 } },
    { label: 'Lamps', params: { lift: 0.6, radius: 0.01 } },
  ],
);

/** Any number of pins, each with its own blur. */
export const pinFocus = focusKind(
  {
    id: 'pin-focus',
    label: 'Pin focus',
    note: 'Pins with a blur each; between them it goes over.',
    byDefault: 'Sharp in the middle, blurred towards the corners.',
  },
  [
    newFocus('pin', 'middle'),
    newFocus('pin', 'left-above', { x: -0.42, y: -0.28, blur: 1 }),
    newFocus('pin', 'right-above', { x: 0.42, y: -0.28, blur: 1 }),
    newFocus('pin', 'left-below', { x: -0.42, y: 0.28, blur: 1 }),
    newFocus('pin', 'right-below', { x: 0.42, y: 0.28, blur: 1 }),
  ],
);
