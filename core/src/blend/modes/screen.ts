import { channelwise } from '../mode';

export const screen = channelwise({
  id: 'screen',
  label: 'Screen',
  family: 'lighten',
  domain: 'unit',
  note: 'Lightens: two projectors on one wall.',
  formula: (b, s) => b + s - b * s,
});
