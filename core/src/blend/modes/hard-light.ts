import { channelwise } from '../mode';
import { hardLit } from '../formulas';

export const hardLight = channelwise({
  id: 'hard-light',
  label: 'Hard light',
  family: 'contrast',
  domain: 'unit',
  note: 'Multiplies or screens by the tone of the layer.',
  formula: (b, s) => hardLit(b, s),
});
