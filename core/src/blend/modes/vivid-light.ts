import { burnt, dodged } from '../formulas';
import { channelwise } from '../mode';

export const vividLight = channelwise({
  id: 'vivid-light',
  label: 'Vivid light',
  family: 'contrast',
  domain: 'unit',
  cost: 7,
  note: 'Dodges by light layers, burns by dark ones.',
  formula: (b, s) => (s <= 0.5 ? burnt(b, 2 * s) : dodged(b, 2 * s - 1)),
});
