import { channelwise } from '../mode';

export const linearBurn = channelwise({
  id: 'linear-burn',
  label: 'Linear burn',
  family: 'darken',
  domain: 'unit',
  note: 'Takes what the layer lacks of white from what is beneath.',
  formula: (b, s) => Math.max(0, b + s - 1),
});
