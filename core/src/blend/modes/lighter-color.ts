import { lum } from '../formulas';
import { wholeColour } from '../mode';

export const lighterColor = wholeColour({
  id: 'lighter-color',
  label: 'Lighter colour',
  family: 'lighten',
  domain: 'unit',
  cost: 4,
  note: 'Keeps the lighter of the two colours, whole.',
  formula: (b, s) => (lum(b) >= lum(s) ? b : s),
});
