import { lum, sat, setLum, setSat } from '../formulas';
import { wholeColour } from '../mode';

export const saturation = wholeColour({
  id: 'saturation',
  label: 'Saturation',
  family: 'colour',
  domain: 'unit',
  cost: 31,
  note: 'Saturation of the layer, the rest from beneath.',
  formula: (b, s) => setLum(setSat(b, sat(s)), lum(b)),
});
