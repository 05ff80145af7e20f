import { smoothColour } from '../expressions/colour';
import { affine, sum, type Image } from '../expressions/image';
import { base, clear, detail, haze as hazeOf } from '../expressions/detail';
import { airOf } from '../measure/air';
import { defineKind } from './define';
import { percent, toneLevel } from '../params';

const NEAR = 0.004;
const WIDE = 0.02;
/** How much of the haze that is seen goes at most: a sky that is all haze must stay a sky. */
const CLEARS = 0.8;
const LEAST_AIR = 0.4;

/** Tones that vary by less than this, some two and a half levels of 8 bits, are noise, or the blocks of a JPEG. */
const NOISE = 1e-4;

/** A picture without its noise: tones and colours that hardly vary are evened out, edges stay. */
const calm = (read: Image, sigmaPx: number): Image => smoothColour(detail(read, base(read, sigmaPx, NOISE), -1), sigmaPx);

/** Where nothing is cleared: an even haze laid over, or the picture as it is. */
const notCleared = (read: Image, { clear, air }: { readonly clear: number; readonly air: number }): Image | undefined =>
  clear > 0 ? undefined : clear === 0 ? read : affine(read, 1 + 0.8 * clear, -0.8 * clear * air);

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
  revision: 2,
  changes: 'Noise and the blocks of a JPEG are no longer lifted with what lies in the haze.',
  earlier: {
    1: (read, values, { edge }) => notCleared(read, values) ?? clear(read, hazeOf(read, NEAR * edge, WIDE * edge), CLEARS * values.clear, values.air),
  },
  work: (read, values, { edge }) => {
    const plain = notCleared(read, values);
    if (plain) return plain;
    const quiet = calm(read, NEAR * edge);
    const cleared = clear(quiet, hazeOf(read, NEAR * edge, WIDE * edge), CLEARS * values.clear, values.air);
    // What was evened out comes back as strong as it was.
    return sum(cleared, sum(read, quiet, 1, -1));
  },
});
