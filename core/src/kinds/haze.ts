import { affine } from '../expressions/image';
import { clear, haze as hazeOf } from '../expressions/detail';
import { airOf } from '../measure/air';
import { defineKind } from './define';
import { percent, toneLevel } from '../params';

const NEAR = 0.004;
const WIDE = 0.02;
/** How much of the haze that is seen goes at most: a sky that is all haze must stay a sky. */
const CLEARS = 0.8;
const LEAST_AIR = 0.4;

/** Takes haze off where the picture is hazy, found by its dark channel and refined along its edges (K. He, J. Sun, X. Tang 2009), or lays an even one over it. */
export const haze = defineKind({
  id: 'haze',
  family: 'tone',
  label: 'Haze',
  note: 'Clears haze away, or adds it.',
  space: 'encoded',
  params: {
    clear: percent({ label: 'Clear', min: -1 }),
    air: toneLevel({ label: 'Tone of the haze', min: LEAST_AIR, at: 0.9 }),
  },
  byDefault: 'neutral',
  shown: { clear: 0.6 },
  auto: (seen) => ({ air: Math.max(LEAST_AIR, airOf(seen)) }),
  autoFor: 'air',
  work: (read, values, { edge }) => {
    if (values.clear === 0) return read;
    if (values.clear < 0) return affine(read, 1 + 0.8 * values.clear, -0.8 * values.clear * values.air);
    return clear(read, hazeOf(read, NEAR * edge, WIDE * edge), CLEARS * values.clear, values.air);
  },
});
