import { decode } from '../pixels/colour';
import { lumaOf, type Gamut } from '../pixels/gamut';
import { only, type Image } from '../expressions/image';
import { lightMatrix } from '../expressions/colour';
import { scaled, tones } from '../expressions/coverage';

const LUMA = lumaOf();

/** What of linear light is bright: nothing up to an encoded tone, all from a soft knee further on. At tone 0 without a knee it is all of it. */
export function bright(read: Image, tone: number, knee: number): Image {
  if (tone <= 0 && knee <= 0) return read;
  const [none, all] = [decode(Math.max(0, tone - knee)), decode(Math.min(1, tone + knee))];
  return only(read, tones(read, [none, Math.max(all, none + 1e-3), 90, 91]));
}

/** Shares by which the shadows and the highlights of linear light take part. */
export const taking = (read: Image, shadows: number, highlights: number): Image =>
  only(read, scaled(tones(read, [decode(0.25), decode(0.75), 90, 91]), highlights - shadows, shadows));

/** More or less colour, and warmer or cooler, in linear light: each -1..1. */
export function tinted(read: Image, saturation: number, warmth: number, gamut: Gamut | undefined): Image {
  if (saturation === 0 && warmth === 0) return read;
  const gains = [1 + 0.18 * warmth, 1, 1 - 0.28 * warmth];
  const row = (c: 0 | 1 | 2): number[] =>
    [0, 1, 2].map((i) => (gains[c] as number) * ((i === c ? 1 + saturation : 0) - saturation * (LUMA[i] as number)));
  return lightMatrix(read, [row(0), row(1), row(2)], gamut);
}
