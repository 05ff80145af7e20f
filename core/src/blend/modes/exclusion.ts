import { channelwise } from '../mode';

export const exclusion = channelwise({
  id: 'exclusion',
  label: 'Exclusion',
  family: 'compare',
  domain: 'unit',
  note: 'As difference, with less contrast.',
  formula: (b, s) => b + s - 2 * b * s,
});
