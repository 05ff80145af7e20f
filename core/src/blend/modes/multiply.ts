import { channelwise } from '../mode';

export const multiply = channelwise({
  id: 'multiply',
  label: 'Multiply',
  family: 'darken',
  domain: 'unit',
  note: 'Darkens: two slides on one light table.',
  formula: (b, s) => b * s,
});
