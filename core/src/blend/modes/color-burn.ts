import { channelwise } from '../mode';

export const colorBurn = channelwise({
  id: 'color-burn',
  label: 'Burn',
  family: 'darken',
  domain: 'unit',
  note: 'Darkens what is beneath by the shade of the layer.',
  formula: (b, s) => (b >= 1 ? 1 : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
});
