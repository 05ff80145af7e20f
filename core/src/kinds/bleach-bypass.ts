import { affine, matrix, mix, type Rows } from '../expressions/image';
import type { Rgb } from '../pixels/colour';
import { lumaOf } from '../pixels/gamut';
import { defineKind } from './define';
import { percent } from '../params';

const grey = (saturation: number, luma: Rgb): Rows => {
  const row = (i: number): number[] => luma.map((w, j) => (1 - saturation) * w + (i === j ? saturation : 0));
  return [row(0), row(1), row(2)];
};

/** Silver left in the film: a black-and-white image lies over the colour image, which makes it harder and paler. */
export const bleachBypass = defineKind({
  id: 'bleach-bypass',
  family: 'film',
  label: 'Bleach bypass',
  note: 'A silver image over the colours: hard and pale.',
  space: 'encoded',
  params: {
    amount: percent({ label: 'Amount', at: 0.7 }),
    saturation: percent({ label: 'Saturation', at: 0.6 }),
    contrast: percent({ label: 'Contrast', min: -1 }),
  },
  byDefault: 'Seven tenths of the silver left in.',
  work: (read, { amount, saturation, contrast }, { gamut }) => {
    const luma = lumaOf(gamut);
    const pale = matrix(read, grey(saturation, luma));
    const silver = matrix(read, grey(0, luma));
    const slope = 2 ** contrast;
    return mix('overlay', pale, contrast === 0 ? silver : affine(silver, slope, 0.5 - 0.5 * slope), amount);
  },
});
