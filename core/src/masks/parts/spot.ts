import { length, number, samples } from '../../params';
import type { Image } from '../../expressions/image';
import { toOklab } from '../../expressions/colour';
import { alongEdges, both, colours, nothing, oval } from '../../expressions/coverage';
import { definePart } from '../part';

/** How far a spot is led along edges, as a share of its reach. */
const REFINE = 0.12;

/** What lies near a tapped place and looks like what is around it, kept to the edges of the thing that it is on. */
export const spot = definePart({
  id: 'spot',
  label: 'Spot',
  note: 'What is near a tapped place and looks like it.',
  reads: true,
  params: {
    samples: samples('Place', 1),
    reach: length({ label: 'Reach', min: 0.01, max: 1, at: 0.15, middle: 0.2 }),
    likeness: number({ label: 'Likeness', min: 0.01, max: 0.5, at: 0.09, step: 0.002, middle: 0.12 }),
  },
  handle: { shape: 'spot', samples: 'samples', reach: 'reach' },
  pick: { samples: 'samples', drag: 'reach' },
  work: ({ samples: [at], reach, likeness }, place, picture) => {
    if (!at) return nothing(place);
    const near = oval({ x: at.x, y: at.y, across: reach, down: reach, angleDeg: 0, box: 0, inner: 0.5 }, place);
    const like = (least: number, soft: number): Image => colours(toOklab(picture), [[at.l, at.a, at.b]], least * likeness, soft * likeness);
    return both(both(alongEdges(like(0.6, 0.4), picture, REFINE * reach * place.edge), like(1, 0.5)), near);
  },
});
