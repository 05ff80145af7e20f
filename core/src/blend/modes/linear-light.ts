import { channelwise } from '../mode';

export const linearLight = channelwise({
  id: 'linear-light',
  label: 'Linear light',
  family: 'contrast',
  domain: 'unit',
  note: 'Adds light layers, takes away dark ones, twice as much.',
  formula: (b, s) => Math.min(1, Math.max(0, b + 2 * s - 1)),
});
