import { burnt } from '../formulas';
import { channelwise } from '../mode';

export const colorBurn = channelwise({
  id: 'color-burn',
  label: 'Burn',
  family: 'darken',
  domain: 'unit',
  note: 'Darkens what is beneath by the shade of the layer.',
  formula: burnt,
});
