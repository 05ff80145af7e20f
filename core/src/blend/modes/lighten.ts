import { channelwise } from '../mode';

export const lighten = channelwise({
  id: 'lighten',
  label: 'Lighten',
  family: 'lighten',
  domain: 'any',
  note: 'Keeps the lighter of the two, channel by channel.',
  formula: (b, s) => Math.max(b, s),
});
