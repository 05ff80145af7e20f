import { angle, length, percent, place } from '../../params';
import type { Image } from '../../expressions/image';
import { either, scaled, strip, type Strip } from '../../expressions/coverage';
import { defineFocus } from '../shape';

/** Further than any photo. */
const FAR = 9;

/** A sharp strip across the photo. What lies before and what lies after it may be blurred each by its own share. */
export const band = defineFocus({
  id: 'band',
  label: 'Band',
  note: 'A straight strip is sharp.',
  params: {
    x: place({ label: 'Across' }),
    y: place({ label: 'Down' }),
    half: length({ label: 'Half width', min: 0, max: 1, at: 0.05, middle: 0.12 }),
    before: length({ label: 'Way to blur before', min: 0, max: 1, at: 0.16, middle: 0.15 }),
    after: length({ label: 'Way to blur after', min: 0, max: 1, at: 0.16, middle: 0.15 }),
    angle: angle({ label: 'Angle', min: -180, max: 180 }),
    blurBefore: percent({ label: 'Blur before', at: 1 }),
    blurAfter: percent({ label: 'Blur after', at: 1 }),
  },
  handle: { shape: 'band', x: 'x', y: 'y', half: 'half', before: 'before', after: 'after', angle: 'angle' },
  work: ({ x, y, half, before, after, angle: angleDeg, blurBefore, blurAfter }, at) => {
    const blurred = (share: number, side: Pick<Strip, 'from' | 'rise' | 'to' | 'fall'>): Image =>
      scaled(strip({ x, y, angleDeg, ...side }, at), -share, share);
    const first = blurred(blurBefore, { from: -half - before, rise: before, to: FAR, fall: 1 });
    return either(first, blurred(blurAfter, { from: -FAR, rise: 1, to: half + after, fall: after }));
  },
});
