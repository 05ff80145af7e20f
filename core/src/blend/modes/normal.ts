import { channelwise } from '../mode';

export const normal = channelwise({
  id: 'normal',
  label: 'Normal',
  family: 'plain',
  domain: 'any',
  note: 'The layer as it is.',
  formula: (_b, s) => s,
});
