import { affine, raise } from '../expressions/image';
import { defineKind } from './define';
import { number, percent, stops } from '../params';

/** The grey that contrast turns about, in linear light: the photographers' 18 %. */
const GREY = 0.18;

/** Light in stops, as a change of exposure would give; then an offset, then contrast as a power about middle grey. */
export const exposure = defineKind({
  id: 'exposure',
  family: 'tone',
  label: 'Exposure',
  note: 'More or less light, in stops.',
  space: 'linear',
  params: {
    stops: stops({ label: 'Stops' }),
    offset: number({ label: 'Offset', min: -0.1, max: 0.1, step: 0.001 }),
    contrast: percent({ label: 'Contrast', min: -1 }),
  },
  byDefault: 'neutral',
  shown: { stops: 0.7 },
  work: (read, { stops, offset, contrast }) => {
    if (stops === 0 && offset === 0 && contrast === 0) return read;
    const lit = affine(read, 2 ** stops, offset);
    return contrast === 0 ? lit : raise(lit, 1 / GREY, 2 ** contrast, GREY);
  },
});
