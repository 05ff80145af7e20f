import { channelwise } from '../mode';
import { hardLit } from '../formulas';

export const overlay = channelwise({
  id: 'overlay',
  label: 'Overlay',
  family: 'contrast',
  domain: 'unit',
  note: 'Multiplies the darks and screens the lights of what is beneath.',
  formula: (b, s) => hardLit(s, b),
});
