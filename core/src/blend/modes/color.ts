import { lum, setLum } from '../formulas';
import { wholeColour } from '../mode';

export const color = wholeColour({
  id: 'color',
  label: 'Colour',
  family: 'colour',
  domain: 'unit',
  cost: 18,
  note: 'Hue and saturation of the layer, luminosity of what is beneath.',
  formula: (b, s) => setLum(s, lum(b)),
});
