import { gaussian, sum } from '../expressions/image';
import { defineKind } from './define';
import { length, percent } from '../params';
import { taking } from './spreading';

/** As a diffusion filter before the lens: the core stays sharp, a share of the light goes into a wide skirt around it. */
export const softFocus = defineKind({
  id: 'soft-focus',
  family: 'light',
  label: 'Soft focus',
  note: 'A sharp core in a wide soft skirt.',
  space: 'linear',
  params: {
    strength: percent({ label: 'Softness', at: 0.4 }),
    radius: length({ label: 'Skirt', min: 0.001, max: 0.05, at: 0.008, middle: 0.015 }),
    highlights: percent({ label: 'Highlights', at: 1 }),
    shadows: percent({ label: 'Shadows', at: 0.6 }),
  },
  byDefault: 'A diffusion filter of middle strength.',
  variants: [
    { label: 'Eighth', params: { strength: 0.15 } },
    { label: 'Quarter', params: { strength: 0.28 } },
    { label: 'Half', params: { strength: 0.48 } },
    { label: 'Full', params: { strength: 0.8, radius: 0.012 } },
  ],
  work: (read, { strength, radius, highlights, shadows }, { edge }) => {
    if (strength === 0) return read;
    const light = taking(read, shadows, highlights);
    const skirt = sum(gaussian(light, radius * edge), gaussian(light, 3.2 * radius * edge), 0.6, 0.4);
    return sum(sum(read, light, 1, -strength), skirt, 1, strength);
  },
});
