import { unit } from '../clamp';
import type { Rgb } from '../pixels/colour';

export type ModeFamily = 'plain' | 'darken' | 'lighten' | 'contrast' | 'compare' | 'colour';

/**
 * A blend mode: B(Cb, Cs) of W3C Compositing and Blending Level 1, section 10. `b` is the backdrop, `s` the source; straight
 * colours. Modes of domain `unit` clamp both to 0..1 first; `any` keeps what lies beyond.
 */
export interface Mode<Id extends string = string> {
  readonly id: Id;
  readonly label: string;
  readonly family: ModeFamily;
  readonly domain: 'any' | 'unit';
  /** Whether red, green and blue are mixed apart, or the colour as a whole. */
  readonly by: 'channel' | 'colour';
  /** Nanoseconds that an opaque pixel takes, about, at 2.5 GHz with nothing else going on. */
  readonly cost: number;
  /** One plain sentence for people. */
  readonly note: string;
  readonly blend: (b: Rgb, s: Rgb) => Rgb;
}

type Definition<Id extends string, F> = Omit<Mode<Id>, 'blend' | 'by' | 'cost'> & { readonly formula: F; readonly cost?: number };

/** What most modes cost. */
const PLAIN = 2;

const inUnit = ([r, g, b]: Rgb): Rgb => [unit(r), unit(g), unit(b)];

/** A mode that treats red, green and blue alike. */
export function channelwise<const Id extends string>({ formula, ...mode }: Definition<Id, (b: number, s: number) => number>): Mode<Id> {
  const whole = wholeColour({ ...mode, formula: (b, s) => [formula(b[0], s[0]), formula(b[1], s[1]), formula(b[2], s[2])] });
  return { ...whole, by: 'channel' };
}

/** A mode that needs the three channels together. */
export function wholeColour<const Id extends string>({ formula, ...mode }: Definition<Id, (b: Rgb, s: Rgb) => Rgb>): Mode<Id> {
  return { ...mode, cost: mode.cost ?? PLAIN, by: 'colour', blend: mode.domain === 'any' ? formula : (b, s) => formula(inUnit(b), inUnit(s)) };
}
