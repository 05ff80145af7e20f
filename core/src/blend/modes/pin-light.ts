import { channelwise } from '../mode';

export const pinLight = channelwise({
  id: 'pin-light',
  label: 'Pin light',
  family: 'contrast',
  domain: 'unit',
  note: 'Lightens by light layers, darkens by dark ones.',
  formula: (b, s) => (s <= 0.5 ? Math.min(b, 2 * s) : Math.max(b, 2 * s - 1)),
});
