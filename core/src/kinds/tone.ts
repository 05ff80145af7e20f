import { affine, defineKind, percent } from './define';

/**
 * Brightness moves all tones, contrast spreads them about the middle: out = (in - 0.5) * 4^contrast + 0.5 + brightness, on encoded
 * values, so that full contrast is four times as steep and least contrast a quarter.
 */
export const tone = defineKind({
  id: 'tone',
  family: 'tone',
  label: 'Tone',
  note: 'Brightness and contrast.',
  space: 'encoded',
  params: {
    brightness: percent({ label: 'Brightness', min: -1 }),
    contrast: percent({ label: 'Contrast', min: -1 }),
  },
  byDefault: 'neutral',
  shown: { brightness: 0.1, contrast: 0.15 },
  work: ({ brightness, contrast }) => {
    if (brightness === 0 && contrast === 0) return [];
    const slope = 4 ** contrast;
    return [affine(slope, 0.5 - 0.5 * slope + brightness)];
  },
});
