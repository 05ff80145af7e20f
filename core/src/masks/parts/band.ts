import { angle, length, place } from '../../params';
import { strip } from '../../expressions/coverage';
import { definePart } from '../part';

/** A straight strip across the photo; the way to nothing is set on each side by itself. */
export const band = definePart({
  id: 'band',
  label: 'Band',
  note: 'A straight strip across the photo.',
  reads: false,
  params: {
    x: place({ label: 'Across' }),
    y: place({ label: 'Down' }),
    half: length({ label: 'Half width', min: 0, max: 1, at: 0.08, middle: 0.15 }),
    before: length({ label: 'Fade before', min: 0, max: 1, at: 0.08, middle: 0.15 }),
    after: length({ label: 'Fade after', min: 0, max: 1, at: 0.08, middle: 0.15 }),
    angle: angle({ label: 'Angle', min: -180, max: 180 }),
  },
  handle: { shape: 'band', x: 'x', y: 'y', half: 'half', before: 'before', after: 'after', angle: 'angle' },
  work: ({ x, y, half, before, after, angle: angleDeg }, at) =>
    strip({ x, y, angleDeg, from: -half - before, rise: before, to: half + after, fall: after }, at),
});
