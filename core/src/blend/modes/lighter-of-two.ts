import { lum } from '../formulas';
import { wholeColour } from '../mode';

export const lighterOfTwo = wholeColour({
  id: 'lighter-of-two',
  label: 'Lighter of two',
  family: 'lighten',
  domain: 'unit',
  cost: 4,
  note: 'Takes the lighter of the two colours, whole.',
  formula: (b, s) => (lum(b) >= lum(s) ? b : s),
});
