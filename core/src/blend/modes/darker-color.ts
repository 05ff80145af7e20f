import { lum } from '../formulas';
import { wholeColour } from '../mode';

export const darkerColor = wholeColour({
  id: 'darker-color',
  label: 'Darker colour',
  family: 'darken',
  domain: 'unit',
  cost: 4,
  note: 'Keeps the darker of the two colours, whole.',
  formula: (b, s) => (lum(b) <= lum(s) ? b : s),
});
