import { lum } from '../formulas';
import { wholeColour } from '../mode';

export const darkerOfTwo = wholeColour({
  id: 'darker-of-two',
  label: 'Darker of two',
  family: 'darken',
  domain: 'unit',
  cost: 4,
  note: 'Takes the darker of the two colours, whole.',
  formula: (b, s) => (lum(b) <= lum(s) ? b : s),
});
