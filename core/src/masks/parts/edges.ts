import { length, number } from '../../params';
import { edges as edgeCoverage } from '../../expressions/coverage';
import { definePart } from '../part';

/** Where tones change at a scale: for sharpening that leaves smooth places alone. */
export const edges = definePart({
  id: 'edges',
  label: 'Edges',
  note: 'Where tones change; smooth places are left out.',
  reads: true,
  params: {
    scale: length({ label: 'Scale', min: 0.0003, max: 0.02, at: 0.001, step: 0.0001, middle: 0.002 }),
    threshold: number({ label: 'Threshold', min: 0, max: 0.3, at: 0.02, step: 0.001, middle: 0.04 }),
    softness: number({ label: 'Softness', min: 0, max: 0.3, at: 0.04, step: 0.001, middle: 0.05 }),
  },
  work: ({ scale, threshold, softness }, { edge }, picture) => edgeCoverage(picture, Math.max(0.6, scale * edge), threshold, softness),
});
