import { choice, number, samples } from '../../params';
import { toOklab } from '../../expressions/colour';
import { alongEdges, both, colours, mapped, nothing } from '../../expressions/coverage';
import { definePart } from '../part';
import { touching } from '../touching';

/** How far an amount of the small map is led along the photo's edges, as a share of the long edge. */
const REFINE = 1 / 256;

/** What has the colour of one of the places that were tapped, by distance in OKLab; if wanted, only as far as it hangs together with them. */
export const colour = definePart({
  id: 'colour',
  label: 'Colour',
  note: 'What has the colour of a tapped place.',
  reads: true,
  params: {
    samples: samples('Colours'),
    tolerance: number({ label: 'Tolerance', min: 0, max: 0.5, at: 0.06, step: 0.002, middle: 0.1 }),
    softness: number({ label: 'Softness', min: 0, max: 0.5, at: 0.06, step: 0.002, middle: 0.1 }),
    where: choice('Where', [
      { id: 'all', label: 'Everywhere' },
      { id: 'touching', label: 'Only what touches' },
    ]),
  },
  pick: { samples: 'samples', drag: 'tolerance' },
  work: ({ samples: all, tolerance, softness, where }, place, picture) => {
    if (all.length === 0) return nothing(place);
    const coverage = colours(
      toOklab(picture),
      all.map(({ l, a, b }) => [l, a, b]),
      tolerance,
      softness,
    );
    const { proxy, gamut } = place;
    if (where === 'all' || !proxy) return coverage;
    const id = `touching ${proxy.developed ?? ''} ${JSON.stringify(all)} ${tolerance} ${softness}`;
    const near = mapped(id, proxy.width, proxy.height, () => touching(proxy, all, tolerance + softness, gamut), place);
    return both(coverage, alongEdges(near, picture, REFINE * place.edge));
  },
});
