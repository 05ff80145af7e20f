import { affine, source, type Image } from '../expressions/image';
import { fromLinear, lightMatrix, rollOff, toLinear } from '../expressions/colour';
import { defaults, paramsSchema, percent, stops, type Params, type Values } from '../params';
import { linearFrom, type Gamut } from '../pixels/gamut';
import { kneeOf, roomOf, USUAL_RECOVERY } from '../pixels/roll-off';
import { decodeRgb, type Rgb } from '../pixels/colour';
import { balance, balanceOfGrey } from './white-balance';

/** How a raw file is developed, before the geometry and the first layer. */
export const developmentParams = {
  /** Stops by which its light is changed before anything is cut off. */
  light: stops({ label: 'Light', min: -4, max: 4 }),
  /** Warmth of the light that it was taken in, as of a white balance; 0 as the camera says. */
  warmth: percent({ label: 'Warmth', min: -1 }),
  /** The same from green to magenta. */
  tint: percent({ label: 'Tint', min: -1 }),
  /** How much of the tones is given to highlights that are brighter than white; at 0 they are cut off. */
  recovery: percent({ label: 'Highlights', at: USUAL_RECOVERY }),
} satisfies Params;

export type Development = Values<typeof developmentParams>;

/** As the camera says, with highlights recovered. */
export const asShot: Development = defaults(developmentParams);
export const developmentSchema = paramsSchema(developmentParams);

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

/** A development under which a colour would be grey. @param rgb as it is seen now, encoded, 0..1. */
export const greyAt = (rgb: Rgb, gamut: Gamut, chosen: Development): Pick<Development, 'warmth' | 'tint'> =>
  balanceOfGrey(linearFrom(gamut, decodeRgb(rgb)), chosen);
