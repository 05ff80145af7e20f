import { channelwise } from '../mode';

export const linearDodge = channelwise({
  id: 'linear-dodge',
  label: 'Linear dodge',
  family: 'lighten',
  domain: 'unit',
  note: 'Adds the layer to what is beneath.',
  formula: (b, s) => Math.min(1, b + s),
});
