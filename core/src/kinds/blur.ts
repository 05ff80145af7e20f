import { gaussian } from '../expressions/image';
import { defineKind } from './define';
import { length } from '../params';

/** Gaussian blur. The radius is the standard deviation. */
export const blur = defineKind({
  id: 'blur',
  family: 'focus',
  label: 'Blur',
  note: 'Softens everything evenly.',
  space: 'encoded',
  params: {
    radius: length({ label: 'Radius', max: 0.1, at: 0.008, middle: 0.015 }),
  },
  byDefault: 'Softens by 0.8 % of the long edge.',
  work: (read, { radius }, { edge }) => gaussian(read, radius * edge),
});
