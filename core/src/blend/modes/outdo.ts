import { channelwise } from '../mode';

export const outdo = channelwise({
  id: 'outdo',
  label: 'Outdo',
  family: 'contrast',
  domain: 'unit',
  note: 'Keeps what goes beyond the layer: light parts can only lift, dark parts only lower.',
  formula: (b, s) => (s <= 0.5 ? Math.min(b, 2 * s) : Math.max(b, 2 * s - 1)),
});
