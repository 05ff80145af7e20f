import { angle, choice, length, percent, place } from '../../params';
import { beyond } from '../../expressions/coverage';
import { defineFocus } from '../shape';

const end = (label: string) => percent({ label, min: 0.01, max: 4, at: 0.8, middle: 1 });

/** A sharp oval, up to a rounded box. The way to blur is set for all sides together, or for each of the four apart. */
export const oval = defineFocus({
  id: 'oval',
  label: 'Oval',
  note: 'An oval or a rounded box is sharp.',
  params: {
    x: place({ label: 'Across' }),
    y: place({ label: 'Down' }),
    width: length({ label: 'Width', min: 0.005, max: 1, at: 0.16, middle: 0.2 }),
    height: length({ label: 'Height', min: 0.005, max: 1, at: 0.12, middle: 0.2 }),
    angle: angle({ label: 'Angle', min: -180, max: 180 }),
    box: percent({ label: 'Boxed' }),
    ends: choice('Ways to blur', [
      { id: 'together', label: 'Together' },
      { id: 'apart', label: 'Each apart' },
    ]),
    right: end('To the right'),
    left: end('To the left'),
    below: end('Below'),
    above: end('Above'),
  },
  handle: {
    shape: 'clearing',
    x: 'x',
    y: 'y',
    width: 'width',
    height: 'height',
    angle: 'angle',
    right: 'right',
    left: 'left',
    below: 'below',
    above: 'above',
    ends: 'ends',
  },
  work: ({ x, y, width, height, angle: angleDeg, box, ends, right, left, below, above }, at) => {
    const sides = ends === 'together' ? { right, left: right, below: right, above: right } : { right, left, below, above };
    return beyond({ x, y, across: width, down: height, angleDeg, box, ...sides }, at);
  },
});
