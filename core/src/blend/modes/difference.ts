import { channelwise } from '../mode';

export const difference = channelwise({
  id: 'difference',
  label: 'Difference',
  family: 'compare',
  domain: 'unit',
  note: 'How far the two are apart.',
  formula: (b, s) => Math.abs(b - s),
});
