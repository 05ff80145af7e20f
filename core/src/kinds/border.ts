import type { FilmPlace } from '../geometry/shape';
import { affine, mix, type Image } from '../expressions/image';
import { between, both, inverted, oval, scaled, strip, tones } from '../expressions/coverage';
import { flatColour } from './fill';
import { grainOf } from './grain';
import { defineKind } from './define';
import { angle, choice, percent, seed } from '../params';

/** How wide a full inset is, of the shorter half side; how far a rough edge strays, and how steep it is. */
const WIDEST = 0.6;
const STRAY = 0.3;
const STEEP = 14;

/** Coverage of the picture within an inset: 1 inside, falling over a softness to 0 at the inset's outer line. */
function within({ picture }: FilmPlace, inset: number, softness: number): Image {
  const [w, h] = [picture.width / 2, picture.height / 2];
  const margin = WIDEST * inset * Math.min(w, h);
  const fall = Math.max(1e-4, softness * Math.min(w, h));
  const along = (angleDeg: number, half: number): Image =>
    strip({ x: 0, y: 0, angleDeg, from: -half + margin, rise: fall, to: half - margin, fall }, picture);
  return both(along(0, h), along(90, w));
}

/** A border of any colour on the finished picture: plain, a soft oval, or with a rough edge. */
export const border = defineKind({
  id: 'border',
  family: 'finish',
  label: 'Border',
  note: 'Plain, a soft oval or a rough edge, in any colour.',
  space: 'encoded',
  params: {
    form: choice('Form', [
      { id: 'plain', label: 'Plain' },
      { id: 'oval', label: 'Oval' },
      { id: 'rough', label: 'Rough' },
    ]),
    inset: percent({ label: 'Width', at: 0.12 }),
    softness: percent({ label: 'Softness' }),
    rough: percent({ label: 'Roughness', at: 0.5 }),
    hue: angle({ label: 'Hue', at: 80, amount: 'amount' }),
    amount: percent({ label: 'Amount' }),
    lightness: percent({ label: 'Lightness', at: 0.97 }),
    seed: seed(),
  },
  byDefault: 'A plain white border.',
  variants: [
    { label: 'White', params: {} },
    { label: 'Black', params: { lightness: 0.05 } },
    { label: 'Cabinet oval', params: { form: 'oval', inset: 0.2, softness: 0.45, amount: 0.06 } },
    { label: 'Rough black', params: { form: 'rough', inset: 0.14, lightness: 0.06, rough: 0.6 } },
    { label: 'Cream', params: { amount: 0.14, lightness: 0.93, inset: 0.16 } },
  ],
  work: (read, { form, inset, softness, rough, seed: own, ...colour }, place) => {
    if (inset === 0 && form !== 'oval') return read;
    const { picture } = place;
    const [w, h] = [picture.width / 2, picture.height / 2];
    const paper = flatColour(read, colour, place);
    if (form === 'oval') {
      const size = 1 - WIDEST * inset;
      return mix(
        'normal',
        paper,
        read,
        1,
        oval({ x: 0, y: 0, across: w * size, down: h * size, angleDeg: 0, box: 0, inner: Math.min(0.99, 1 - softness) }, picture),
      );
    }
    if (form === 'plain') return mix('normal', paper, read, 1, within(place, inset, softness));
    // Noise on the film moves the line to and fro: its mean lies half way, and what is over that is picture.
    const grey = affine(read, 0, 0.5);
    const grains = { amount: 1, softness: 0.6, roughness: 0.9, tint: 0, middle: 0 };
    const noise = tones(grainOf(grey, { ...grains, size: 80, seed: Math.round(own) + 900 }, place), [0.2, 0.8, 90, 91]);
    const wide = within(place, Math.max(0, inset - 0.06), 0.02 + 0.12 * rough);
    const ragged = scaled(between(wide, noise, STRAY * rough), STEEP, -STEEP / 2);
    return mix('normal', read, paper, 1, inverted(ragged));
  },
});
