import { decode } from '../pixels/colour';
import { gaussian, mix } from '../expressions/image';
import { flatLight } from '../expressions/colour';
import { both, scaled, strip, tones } from '../expressions/coverage';
import { defineKind } from './define';
import { angle, choice, length, percent, place, toneLevel } from '../params';

const FAR = 50;
/** Light that the air scatters into the picture: everywhere alike, or from one side on. It lies on the photo. */
export const mist = defineKind({
  id: 'mist',
  family: 'light',
  label: 'Mist',
  note: 'Air that scatters light, everywhere or from one side.',
  space: 'linear',
  params: {
    amount: percent({ label: 'Thickness', at: 0.45 }),
    spread: choice('Spread', [
      { id: 'even', label: 'Everywhere' },
      { id: 'graduated', label: 'From one side' },
    ]),
    tone: toneLevel({ label: 'Tone', at: 0.82 }),
    warmth: percent({ label: 'Warmth', min: -1 }),
    light: percent({ label: 'Spare dark things', at: 0.2 }),
    softness: length({ label: 'Softness', max: 0.02, at: 0.001, middle: 0.003 }),
    x: place({ label: 'Across' }),
    y: place({ label: 'Down', at: 0.05 }),
    length: length({ label: 'Length', min: 0.002, max: 2, at: 0.25, middle: 0.3 }),
    angle: angle({ label: 'Angle', min: -180, max: 180, at: 180 }),
  },
  byDefault: 'Even mist of middle thickness.',
  variants: [
    { label: 'Even', params: {} },
    { label: 'Ground', params: { spread: 'graduated', amount: 0.7, y: 0.22 } },
    { label: 'From above', params: { spread: 'graduated', angle: 0, y: -0.25, amount: 0.6 } },
    { label: 'Morning', params: { spread: 'graduated', amount: 0.65, warmth: 0.5, tone: 0.9, y: 0.22 } },
  ],
  handle: { shape: 'ramp', x: 'x', y: 'y', length: 'length', angle: 'angle' },
  work: (read, { amount, spread, tone, warmth, light, softness, x, y, length: long, angle: angleDeg }, at) => {
    if (amount === 0) return read;
    // The tone is encoded; the air is light.
    const linear = decode(tone);
    const air = flatLight(read, [linear * (1 + 0.12 * warmth), linear, linear * (1 - 0.2 * warmth)], at.gamut);
    const even = strip({ x, y, angleDeg, from: -FAR, rise: 1, to: FAR, fall: 1 }, at);
    const reaching = spread === 'even' ? even : strip({ x, y, angleDeg, from: -FAR, rise: 1, to: long, fall: long }, at);
    const thick = light === 0 ? reaching : both(reaching, scaled(tones(read, [0, decode(0.5), 90, 91]), light, 1 - light));
    const soft = gaussian(read, softness * at.edge);
    return mix('normal', read, mix('normal', soft, air, amount), 1, thick);
  },
});
