import { channelwise } from '../mode';

export const colorDodge = channelwise({
  id: 'color-dodge',
  label: 'Dodge',
  family: 'lighten',
  domain: 'unit',
  note: 'Brightens what is beneath by the light of the layer.',
  formula: (b, s) => (b <= 0 ? 0 : s >= 1 ? 1 : Math.min(1, b / (1 - s))),
});
