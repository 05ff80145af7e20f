import { gaussian, sum } from '../expressions/image';
import { shoulder } from '../expressions/colour';
import { defineKind } from './define';
import { length, percent } from '../params';
import { taking, tinted } from './spreading';

/** Where the highlights begin to bend, so that what the glow adds never clips. */
const KNEE = 0.75;

/** A soft copy of the light laid over the sharp one. */
export const glow = defineKind({
  id: 'glow',
  family: 'light',
  label: 'Glow',
  note: 'A soft copy of the light over the sharp one.',
  space: 'linear',
  params: {
    strength: percent({ label: 'Glow', at: 0.4 }),
    radius: length({ label: 'Radius', min: 0.001, max: 0.1, at: 0.012, middle: 0.02 }),
    saturation: percent({ label: 'Colour', min: -1, at: 0.1 }),
    warmth: percent({ label: 'Warmth', min: -1, at: 0.1 }),
    shadows: percent({ label: 'Shadows', at: 0.3 }),
    highlights: percent({ label: 'Highlights', at: 1 }),
  },
  byDefault: 'A gentle glow of the lighter parts.',
  variants: [
    { label: 'Gentle', params: {} },
    { label: 'Highlights only', params: { shadows: 0, strength: 0.6 } },
    { label: 'Wide and warm', params: { radius: 0.035, warmth: 0.5, strength: 0.45 } },
    { label: 'Dreamy', params: { radius: 0.02, strength: 0.8, shadows: 0.6 } },
  ],
  revision: 2,
  changes: 'Tones that take no part in the glow are no longer darkened.',
  earlier: {
    // The whole picture was weakened, also where nothing was laid over it.
    1: (read, { strength, radius, saturation, warmth, shadows, highlights }, { edge, gamut }) => {
      if (strength === 0) return read;
      const soft = tinted(gaussian(taking(read, shadows, highlights), radius * edge), saturation, warmth, gamut);
      return shoulder(sum(read, soft, 1 - 0.35 * strength, 0.85 * strength), KNEE);
    },
  },
  work: (read, { strength, radius, saturation, warmth, shadows, highlights }, { edge, gamut }) => {
    if (strength === 0) return read;
    const taken = taking(read, shadows, highlights);
    const soft = tinted(gaussian(taken, radius * edge), saturation, warmth, gamut);
    return shoulder(sum(sum(read, taken, 1, -0.35 * strength), soft, 1, 0.85 * strength), KNEE);
  },
});
