import { gains, sum } from '../expressions/image';
import { longTail } from '../expressions/detail';
import { defineKind } from './define';
import { number, percent, toneLevel } from '../params';
import { bright } from './spreading';

/** The long edge of the film, in micrometres. */
const FRAME_UM = 36_000;

/** Light that went through the film, came back from its base and spread: red first, then orange. It shows where bright meets dark. */
export const halation = defineKind({
  id: 'halation',
  family: 'film',
  label: 'Halation',
  note: 'Red-orange rims of light against the dark, as film base gives.',
  space: 'linear',
  params: {
    amount: percent({ label: 'Amount', at: 0.4 }),
    size: number({ label: 'Size', unit: 'micrometres', min: 20, max: 1500, at: 220, step: 5, middle: 300 }),
    threshold: toneLevel({ label: 'From tone', at: 0.72 }),
    orange: percent({ label: 'Orange', at: 0.35 }),
  },
  byDefault: 'Red-orange rims around the brightest parts.',
  variants: [
    { label: 'Faint', params: { amount: 0.2 } },
    { label: 'Night film', params: { amount: 0.7, size: 320, threshold: 0.62 } },
    { label: 'Bare base', params: { amount: 1, size: 480, threshold: 0.6, orange: 0.2 } },
  ],
  work: (read, { amount, size, threshold, orange }, { edge }) => {
    if (amount === 0) return read;
    // What spreads is taken from where it came from, in each channel by itself: no light is made.
    const light = gains(bright(read, threshold, threshold === 0 ? 0 : 0.08), [0.6 * amount, 0.6 * amount * orange, 0.12 * amount * orange]);
    return sum(sum(read, light, 1, -1), longTail(light, (size * edge) / FRAME_UM));
  },
});
