import { channelwise } from '../mode';

export const darken = channelwise({
  id: 'darken',
  label: 'Darken',
  family: 'darken',
  domain: 'any',
  note: 'Keeps the darker of the two, channel by channel.',
  formula: (b, s) => Math.min(b, s),
});
