import { channelwise } from '../mode';
import { softLit } from '../formulas';

export const softLight = channelwise({
  id: 'soft-light',
  label: 'Soft light',
  family: 'contrast',
  domain: 'unit',
  cost: 6,
  note: 'Darkens or lightens gently by the tone of the layer.',
  formula: (b, s) => softLit(b, s),
});
