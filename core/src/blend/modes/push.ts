import { unit } from '../../clamp';
import { channelwise } from '../mode';

export const push = channelwise({
  id: 'push',
  label: 'Push',
  family: 'contrast',
  domain: 'unit',
  note: 'Adds the layer twice and takes white away: it pushes up where it is light, down where it is dark.',
  formula: (b, s) => unit(b + 2 * s - 1),
});
