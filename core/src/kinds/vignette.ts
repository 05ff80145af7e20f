import { mix } from '../expressions/image';
import { exposed, fromLinear, toLinear } from '../expressions/colour';
import { inverted, oval, scaled, tones } from '../expressions/coverage';
import { defineKind } from './define';
import { angle, choice, percent, stops } from '../params';
import { flatColour } from './fill';

/** Tones between which whites are spared from a colour. */
const WHITES = [0.72, 0.95] as const;

/** Edges darker, lighter or of a colour, about any centre. It belongs to the finished picture: a crop moves it along. */
export const vignette = defineKind({
  id: 'vignette',
  family: 'finish',
  label: 'Vignette',
  note: 'Edges darker, lighter or of a colour, about any centre.',
  space: 'encoded',
  params: {
    stops: stops({ label: 'Stops', min: -4, max: 4, at: -1.2 }),
    inner: percent({ label: 'Clear middle', at: 0.35 }),
    whites: percent({ label: 'Protect whites', at: 0.6 }),
    x: percent({ label: 'Across', min: -1.5, max: 1.5 }),
    y: percent({ label: 'Down', min: -1.5, max: 1.5 }),
    width: percent({ label: 'Width', min: 0.1, max: 3, at: 1.45 }),
    height: percent({ label: 'Height', min: 0.1, max: 3, at: 1.45 }),
    angle: angle({ label: 'Angle', min: -180, max: 180 }),
    box: percent({ label: 'Round to frame', at: 0.2 }),
    toward: choice('Edges', [
      { id: 'light', label: 'By light' },
      { id: 'colour', label: 'Of a colour' },
    ]),
    cover: percent({ label: 'Cover', at: 1 }),
    hue: angle({ label: 'Hue', at: 60, amount: 'amount' }),
    amount: percent({ label: 'Amount' }),
    lightness: percent({ label: 'Lightness', at: 0.95 }),
  },
  byDefault: 'Edges more than a stop darker, whites spared.',
  variants: [
    { label: 'Soft dark', params: { stops: -1, inner: 0.2 } },
    { label: 'Burnt edges', params: { stops: -2.2, inner: 0.55, box: 0.5, width: 1.3, height: 1.3 } },
    { label: 'Light edges', params: { stops: 1.2, inner: 0.3 } },
    { label: 'White oval', params: { toward: 'colour', lightness: 0.97, inner: 0.6, width: 0.95, height: 0.95, box: 0, whites: 0 } },
    { label: 'Warm edges', params: { toward: 'colour', cover: 0.35, lightness: 0.45, hue: 55, amount: 0.7, inner: 0.3 } },
  ],
  handle: { shape: 'oval', x: 'x', y: 'y', width: 'width', height: 'height', angle: 'angle', inner: 'inner', onPicture: true },
  work: (read, { stops: by, inner, whites, x, y, width, height, angle: angleDeg, box, toward, cover, ...colour }, { picture, gamut }) => {
    const [across, down] = [picture.width / 2, picture.height / 2];
    const middle = oval({ x: x * across, y: y * down, across: width * across, down: height * down, angleDeg, box, inner }, picture);
    const edge = inverted(middle);
    if (toward === 'light') return by === 0 ? read : fromLinear(exposed(toLinear(read), edge, by, whites, 0));
    // What is white stays, as far as it is wanted.
    const clean = scaled(tones(read, [WHITES[0], WHITES[1], 9, 10]), -whites, 1);
    return mix('normal', mix('normal', read, flatColour(read, colour, gamut ? { gamut } : {}), cover, edge), read, 1, inverted(clean));
  },
});
