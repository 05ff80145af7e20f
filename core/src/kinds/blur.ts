import { defineKind, gaussian, length } from './define';

/** Below this standard deviation a Gaussian on the pixel grid changes nothing that can be seen. */
const LEAST_PX = 0.2;

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
  work: ({ radius }, { width, height }) => {
    const sigmaPx = radius * Math.max(width, height);
    return sigmaPx < LEAST_PX ? [] : [gaussian(sigmaPx)];
  },
});
