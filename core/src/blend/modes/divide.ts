import { channelwise } from '../mode';

export const divide = channelwise({
  id: 'divide',
  label: 'Divide',
  family: 'compare',
  domain: 'unit',
  note: 'Divides what is beneath by the layer: equal tones become white.',
  formula: (b, s) => (b <= 0 ? 0 : Math.min(1, b / Math.max(s, 1e-20))),
});
