import { gaussian, mix } from '../expressions/image';
import { tones } from '../expressions/coverage';
import { defineKind } from './define';
import { length, percent, seed } from '../params';
import { grainOf } from './grain';

/** A bright haze that lies over the light parts, with grain that eats into them. */
export const veil = defineKind({
  id: 'veil',
  family: 'light',
  label: 'Veil',
  note: 'A bright haze, with grain that eats into the light.',
  space: 'encoded',
  params: {
    haze: percent({ label: 'Haze', at: 0.35 }),
    radius: length({ label: 'Radius', min: 0.001, max: 0.1, at: 0.02, middle: 0.03 }),
    grain: percent({ label: 'Grain in the light', at: 0.5 }),
    seed: seed(),
  },
  byDefault: 'A light haze with grain in its bright parts.',
  work: (read, { haze, radius, grain, seed: own }, place) => {
    const hazed = haze === 0 ? read : mix('screen', read, gaussian(read, radius * place.edge), haze);
    if (grain === 0) return hazed;
    const eaten = grainOf(hazed, { amount: grain, size: 26, softness: 0.1, roughness: 0.6, tint: 0, middle: 0, seed: Math.round(own) + 400 }, place);
    return mix('normal', hazed, mix('darken', hazed, eaten), 1, tones(hazed, [0.45, 0.85, 90, 91]));
  },
});
