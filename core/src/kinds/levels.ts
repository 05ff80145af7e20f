import { curve, defineKind, number, toneLevel } from './define';

/** Input black and white are kept at least one 8-bit level apart. */
const LEAST_RANGE = 1 / 255;

/**
 * out = black' + (white' - black') * ((in - black) / (white - black))^(1 / midtone), input held between its black and white. Output
 * ends may be crossed, which turns the tones over.
 */
export const levels = defineKind({
  id: 'levels',
  family: 'tone',
  label: 'Levels',
  note: 'Sets where black, middle and white lie.',
  space: 'encoded',
  params: {
    black: toneLevel({ label: 'Black', at: 0 }),
    midtone: number({ label: 'Midtone', min: 0.1, max: 10, at: 1, middle: 1, step: 0.05 }),
    white: toneLevel({ label: 'White', at: 1 }),
    outBlack: toneLevel({ label: 'Black becomes', at: 0 }),
    outWhite: toneLevel({ label: 'White becomes', at: 1 }),
  },
  byDefault: 'neutral',
  shown: { black: 0.08, white: 0.92, midtone: 1.2 },
  work: ({ black, midtone, white, outBlack, outWhite }) => {
    if (black === 0 && white === 1 && midtone === 1 && outBlack === 0 && outWhite === 1) return [];
    const range = Math.max(LEAST_RANGE, white - black);
    const f = (x: number): number => {
      const t = Math.min(1, Math.max(0, (x - black) / range));
      return outBlack + (outWhite - outBlack) * t ** (1 / midtone);
    };
    return [curve(`levels ${black} ${midtone} ${white} ${outBlack} ${outWhite}`, f)];
  },
});
