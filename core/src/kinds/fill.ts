import { unit } from '../clamp';
import { encodeRgb, oklabToLinear } from '../pixels/colour';
import { flat, type Image } from '../expressions/image';
import type { FilmPlace } from '../geometry/shape';
import { linearIn } from '../pixels/gamut';
import { defineKind } from './define';
import { angle, percent } from '../params';
import { tint } from './tables';

/** OKLab chroma of a full amount. */
const FULL = 0.32;
/** A plain colour wherever an image is; colours beyond what a screen shows are held at its edge. */
export function flatColour(
  read: Image,
  { hue, amount, lightness }: { readonly hue: number; readonly amount: number; readonly lightness: number },
  { gamut = 'srgb' }: Pick<FilmPlace, 'gamut'>,
): Image {
  const { a, b } = tint(hue, FULL * amount);
  const held = oklabToLinear([lightness, a, b]).map((v) => unit(v)) as [number, number, number];
  return flat(read, encodeRgb(linearIn(gamut, held)));
}

/** A plain colour over everything: with a mask, a mode and a strength, paint of any kind. */
export const fill = defineKind({
  id: 'fill',
  family: 'picture',
  label: 'Fill',
  note: 'A plain colour, to be mixed in where it is wanted.',
  space: 'encoded',
  params: {
    hue: angle({ label: 'Hue', at: 60, amount: 'amount' }),
    amount: percent({ label: 'Amount', at: 0 }),
    lightness: percent({ label: 'Lightness', at: 0 }),
  },
  byDefault: 'Black.',
  variants: [
    { label: 'Black', params: {} },
    { label: 'White', params: { lightness: 1 } },
    { label: 'Warm', params: { hue: 62, amount: 0.35, lightness: 0.68 } },
    { label: 'Night', params: { hue: 255, amount: 0.3, lightness: 0.25 } },
  ],
  work: (read, colour, place) => flatColour(read, colour, place),
});
