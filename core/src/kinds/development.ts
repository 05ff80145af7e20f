import { z } from 'zod';
import { affine, fromLinear, lightMatrix, rollOff, source, toLinear, type Image } from '../expressions/image';
import type { Gamut } from '../pixels/gamut';
import { kneeOf, roomOf, USUAL_RECOVERY } from '../pixels/roll-off';
import { balance } from './white-balance';

/** How a raw file is developed, before the geometry and the first layer. */
export interface Development {
  /** Stops by which its light is changed before anything is cut off, -4..4. */
  readonly light: number;
  /** Warmth of the light that it was taken in, -1..1 as of a white balance; 0 as the camera says. */
  readonly warmth: number;
  /** The same from green to magenta. */
  readonly tint: number;
  /** How much of the tones is given to highlights that are brighter than white, 0..1; at 0 they are cut off. */
  readonly recovery: number;
}

/** As the camera says, with highlights recovered. */
export const asShot: Development = { light: 0, warmth: 0, tint: 0, recovery: USUAL_RECOVERY };

const within = (least: number, most: number): z.ZodNumber => z.number().min(least).max(most);
export const developmentSchema: z.ZodType<Development> = z.strictObject({
  light: within(-4, 4),
  warmth: within(-1, 1),
  tint: within(-1, 1),
  recovery: within(0, 1),
});

/**
 * What a developed raw file holds as an encoded picture to work on.
 * @param headroom light that its largest value stands for, as a multiple of white.
 */
export function developed(
  headroom: number,
  { light, warmth, tint, recovery }: Development = asShot,
  gamut: Gamut = 'srgb',
  from: Image = source,
): Image {
  const gain = headroom * 2 ** light;
  const lit = affine(toLinear(from), gain, 0);
  const balanced = warmth === 0 && tint === 0 ? lit : lightMatrix(lit, balance(warmth, tint), gamut);
  return fromLinear(rollOff(balanced, kneeOf(recovery), roomOf(recovery, gain)));
}
