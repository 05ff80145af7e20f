import { channelwise } from '../mode';

export const add = channelwise({
  id: 'add',
  label: 'Add',
  family: 'lighten',
  domain: 'unit',
  note: 'Adds the light of the layer to what is beneath.',
  formula: (b, s) => Math.min(1, b + s),
});
