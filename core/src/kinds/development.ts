import { affine, source, type Image } from '../expressions/image';
import { fromLinear, lightMatrix, rollOff, toLinear } from '../expressions/colour';
import { defaults, paramsSchema, percent, stops, type Params, type Values } from '../params';
import type { PhotoProxy } from '../geometry/shape';
import { linearFrom, linearIn, type Gamut } from '../pixels/gamut';
import { kneeOf, rolledOff, roomOf, USUAL_RECOVERY } from '../pixels/roll-off';
import { decode, decodeRgb, encode, type Rgb } from '../pixels/colour';
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

/** The same of one colour, whose parts are 0..1. */
export function developedColour(rgb: Rgb, headroom: number, { light, warmth, tint, recovery }: Development, gamut: Gamut): Rgb {
  const gain = headroom * 2 ** light;
  const lit = rgb.map((v) => gain * decode(v)) as unknown as Rgb;
  const rows = balance(warmth, tint);
  const seen = linearFrom(gamut, lit);
  const balanced =
    warmth === 0 && tint === 0
      ? lit
      : linearIn(gamut, rows.map((row) => row.reduce((sum, v, k) => sum + v * (seen[k] as number), 0)) as unknown as Rgb);
  return rolledOff(balanced, kneeOf(recovery), roomOf(recovery, gain)).map(encode) as unknown as Rgb;
}

const developedLast = new WeakMap<Uint16Array, PhotoProxy>();

/** The proxy of a raw photo as a version develops it; that of another photo as it is. */
export function developedProxy(proxy: PhotoProxy, development: Development, gamut: Gamut): PhotoProxy {
  const { raw } = proxy;
  if (!raw) return proxy;
  const { values, headroom } = raw;
  const key = JSON.stringify(development);
  const last = developedLast.get(values);
  if (last?.developed === key) return last;
  const pixels = new Uint8Array(values.length);
  const part = (i: number): number => (values[i] as number) / 65535;
  for (let i = 0; i < values.length; i += 3)
    pixels.set(
      developedColour([part(i), part(i + 1), part(i + 2)], headroom, development, gamut).map((v) => Math.round(255 * Math.min(1, Math.max(0, v)))),
      i,
    );
  const made = { ...proxy, pixels, developed: key };
  developedLast.set(values, made);
  return made;
}

/** A development under which a colour would be grey. @param rgb as it is seen now, encoded, 0..1. */
export const greyAt = (rgb: Rgb, gamut: Gamut, chosen: Development): Pick<Development, 'warmth' | 'tint'> =>
  balanceOfGrey(linearFrom(gamut, decodeRgb(rgb)), chosen);
