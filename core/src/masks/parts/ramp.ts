import { angle, length, place } from '../../params';
import { strip } from '../../expressions/coverage';
import { definePart } from '../part';

/** Beyond every photo. */
const FAR = 50;

/** One way from all to nothing: all before it begins, nothing behind it. */
export const ramp = definePart({
  id: 'ramp',
  label: 'Ramp',
  note: 'From all on one side to nothing on the other.',
  reads: false,
  params: {
    x: place({ label: 'Across' }),
    y: place({ label: 'Down', at: -0.12 }),
    length: length({ label: 'Length', min: 0.002, max: 2, at: 0.25, middle: 0.3 }),
    angle: angle({ label: 'Angle', min: -180, max: 180 }),
  },
  handle: { shape: 'ramp', x: 'x', y: 'y', length: 'length', angle: 'angle' },
  work: ({ x, y, length: long, angle: angleDeg }, at) => strip({ x, y, angleDeg, from: -FAR, rise: 1, to: long, fall: long }, at),
});
