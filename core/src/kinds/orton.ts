import { gaussian, mix } from '../expressions/image';
import { tones } from '../expressions/coverage';
import { defineKind } from './define';
import { length, percent } from '../params';

/** The classic pair in one layer: a lifted sharp copy, darkened by a soft one. */
export const orton = defineKind({
  id: 'orton',
  family: 'light',
  label: 'Orton',
  note: 'A lifted sharp copy times a soft one.',
  space: 'encoded',
  params: {
    strength: percent({ label: 'Soft copy', at: 0.6 }),
    lift: percent({ label: 'Lift', at: 0.9 }),
    radius: length({ label: 'Radius', min: 0.001, max: 0.06, at: 0.012, middle: 0.02 }),
    shadows: percent({ label: 'Shadows kept', at: 0.2 }),
  },
  byDefault: 'A glow that deepens the colours.',
  variants: [
    { label: 'Classic', params: {} },
    { label: 'Light', params: { strength: 0.4, lift: 1, shadows: 0.5 } },
    { label: 'Deep', params: { strength: 0.9, lift: 0.8, shadows: 0 } },
  ],
  work: (read, { strength, lift, radius, shadows }, { edge }) => {
    const lifted = mix('screen', read, read, lift);
    const paired = mix('multiply', lifted, gaussian(lifted, radius * edge), strength);
    if (paired === read) return read;
    return shadows === 0 ? paired : mix('normal', paired, read, shadows, tones(read, [-9, -8, 0.05, 0.35]));
  },
});
