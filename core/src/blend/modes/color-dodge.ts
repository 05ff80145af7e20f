import { dodged } from '../formulas';
import { channelwise } from '../mode';

export const colorDodge = channelwise({
  id: 'color-dodge',
  label: 'Dodge',
  family: 'lighten',
  domain: 'unit',
  note: 'Brightens what is beneath by the light of the layer.',
  formula: dodged,
});
