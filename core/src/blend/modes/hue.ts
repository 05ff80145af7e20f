import { lum, sat, setLum, setSat } from '../formulas';
import { wholeColour } from '../mode';

export const hue = wholeColour({
  id: 'hue',
  label: 'Hue',
  family: 'colour',
  domain: 'unit',
  cost: 34,
  note: 'Hue of the layer, saturation and luminosity of what is beneath.',
  formula: (b, s) => setLum(setSat(s, sat(b)), lum(b)),
});
