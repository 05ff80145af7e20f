import { sum } from '../expressions/image';
import { longTail } from '../expressions/detail';
import { defineKind } from './define';
import { length, percent, toneLevel } from '../params';
import { bright, tinted } from './spreading';

/** Bright parts spread into what is around them, far and thin: a window lights its frame. What spreads is taken from where it came, so no light is made. */
export const bloom = defineKind({
  id: 'bloom',
  family: 'light',
  label: 'Bloom',
  note: 'Bright parts spread into what is around them.',
  space: 'linear',
  params: {
    amount: percent({ label: 'Amount', at: 0.35 }),
    radius: length({ label: 'Radius', min: 0.001, max: 0.08, at: 0.015, middle: 0.02 }),
    threshold: toneLevel({ label: 'From tone', at: 0.78 }),
    knee: toneLevel({ label: 'Softness', at: 0.12 }),
    warmth: percent({ label: 'Warmth', min: -1 }),
  },
  byDefault: 'The brightest parts spread a little.',
  variants: [
    { label: 'Window', params: { amount: 0.5, radius: 0.025 } },
    { label: 'Lamps', params: { amount: 0.6, radius: 0.01, threshold: 0.85, warmth: 0.3 } },
    { label: 'All of it', params: { threshold: 0, knee: 0, amount: 0.25, radius: 0.02 } },
  ],
  work: (read, { amount, radius, threshold, knee, warmth }, { edge, gamut }) => {
    if (amount === 0) return read;
    const light = bright(read, threshold, knee);
    return sum(sum(read, light, 1, -amount), tinted(longTail(light, radius * edge), 0, warmth, gamut), 1, amount);
  },
});
