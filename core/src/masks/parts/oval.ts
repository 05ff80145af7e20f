import { angle, length, percent, place } from '../../params';
import { oval as ovalCoverage } from '../../expressions/coverage';
import { definePart } from '../part';

/** Everything within an oval: from an ellipse to a rounded box, whole up to its inner border and gone at its outer one. */
export const oval = definePart({
  id: 'oval',
  label: 'Oval',
  note: 'Within an oval or a rounded box.',
  reads: false,
  params: {
    x: place({ label: 'Across' }),
    y: place({ label: 'Down' }),
    width: length({ label: 'Width', min: 0.005, max: 2, at: 0.25, middle: 0.3 }),
    height: length({ label: 'Height', min: 0.005, max: 2, at: 0.2, middle: 0.3 }),
    angle: angle({ label: 'Angle', min: -180, max: 180 }),
    inner: percent({ label: 'Inner border', at: 0.4 }),
    box: percent({ label: 'Boxed' }),
  },
  handle: { shape: 'oval', x: 'x', y: 'y', width: 'width', height: 'height', angle: 'angle', inner: 'inner' },
  work: ({ x, y, width, height, angle: angleDeg, inner, box }, at) => ovalCoverage({ x, y, across: width, down: height, angleDeg, box, inner }, at),
});
