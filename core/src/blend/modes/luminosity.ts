import { lum, setLum } from '../formulas';
import { wholeColour } from '../mode';

export const luminosity = wholeColour({
  id: 'luminosity',
  label: 'Luminosity',
  family: 'colour',
  domain: 'unit',
  cost: 18,
  note: 'Luminosity of the layer, colour of what is beneath.',
  formula: (b, s) => setLum(b, lum(s)),
});
