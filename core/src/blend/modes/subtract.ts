import { channelwise } from '../mode';

export const subtract = channelwise({
  id: 'subtract',
  label: 'Subtract',
  family: 'compare',
  domain: 'unit',
  note: 'Takes the layer away from what is beneath.',
  formula: (b, s) => Math.max(0, b - s),
});
