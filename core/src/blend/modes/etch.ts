import { burnt, dodged } from '../formulas';
import { channelwise } from '../mode';

export const etch = channelwise({
  id: 'etch',
  label: 'Etch',
  family: 'contrast',
  domain: 'unit',
  cost: 7,
  note: 'Dodges where the layer is light, burns where it is dark.',
  formula: (b, s) => (s <= 0.5 ? burnt(b, 2 * s) : dodged(b, 2 * s - 1)),
});
