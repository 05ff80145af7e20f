import { channelwise } from '../mode';

export const deepen = channelwise({
  id: 'deepen',
  label: 'Deepen',
  family: 'darken',
  domain: 'unit',
  note: 'Adds both and takes white away: dark gets darker.',
  formula: (b, s) => Math.max(0, b + s - 1),
});
