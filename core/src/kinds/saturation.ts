import { chroma } from '../expressions/colour';
import { defineKind } from './define';
import { percent } from '../params';

/** OKLab chroma, with lightness and hue kept. What is strong already can be spared. */
export const saturation = defineKind({
  id: 'saturation',
  family: 'colour',
  label: 'Saturation',
  note: 'Stronger or weaker colour, lightness kept.',
  space: 'oklab',
  params: {
    amount: percent({ label: 'Amount', min: -1 }),
    protect: percent({ label: 'Spare strong colour', at: 0.5 }),
  },
  byDefault: 'neutral',
  shown: { amount: 0.5 },
  work: (read, { amount, protect }) => (amount === 0 ? read : chroma(read, amount, amount > 0 ? protect : 0)),
});
