import { mix } from '../expressions/image';
import { strip } from '../expressions/coverage';
import { defineKind } from './define';
import { angle, length, percent, place } from '../params';
import { flatColour } from './fill';

const FAR = 50;

/** From one colour to another in a straight line, lying on the photo. */
export const rampFill = defineKind({
  id: 'ramp-fill',
  family: 'picture',
  label: 'Ramp fill',
  note: 'From one colour to another across the photo.',
  space: 'encoded',
  params: {
    hue: angle({ label: 'First hue', at: 55, amount: 'amount', section: 'First' }),
    amount: percent({ label: 'First amount', at: 0.3, section: 'First' }),
    lightness: percent({ label: 'First lightness', at: 0.75, section: 'First' }),
    endHue: angle({ label: 'Second hue', at: 255, amount: 'endAmount', section: 'Second' }),
    endAmount: percent({ label: 'Second amount', at: 0.3, section: 'Second' }),
    endLightness: percent({ label: 'Second lightness', at: 0.3, section: 'Second' }),
    x: place({ label: 'Across', section: 'Place' }),
    y: place({ label: 'Down', at: -0.2, section: 'Place' }),
    length: length({ label: 'Length', min: 0.002, max: 2, at: 0.4, middle: 0.3, section: 'Place' }),
    angle: angle({ label: 'Angle', min: -180, max: 180, section: 'Place' }),
  },
  byDefault: 'From a warm light above to a blue shade below.',
  variants: [
    { label: 'Dusk', params: {} },
    { label: 'Dark below', params: { amount: 0, lightness: 1, endAmount: 0, endLightness: 0 } },
    { label: 'Low sun', params: { hue: 70, amount: 0.5, lightness: 0.8, endHue: 30, endAmount: 0.4, endLightness: 0.4, angle: 90 } },
  ],
  handle: { shape: 'ramp', x: 'x', y: 'y', length: 'length', angle: 'angle' },
  work: (read, { hue, amount, lightness, endHue, endAmount, endLightness, x, y, length: long, angle: angleDeg }, at) => {
    const first = strip({ x, y, angleDeg, from: -FAR, rise: 1, to: long, fall: long }, at);
    const end = flatColour(read, { hue: endHue, amount: endAmount, lightness: endLightness }, at);
    return mix('normal', end, flatColour(read, { hue, amount, lightness }, at), 1, first);
  },
});
