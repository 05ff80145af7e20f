import { base, detail } from '../expressions/detail';
import { defineKind } from './define';
import { percent } from '../params';

/** What each scale means, as a share of the long edge, and how uneven a place must be to count as an edge. */
const SCALES = { broad: 0.025, medium: 0.008, fine: 0.0022 } as const;
const EDGE = 0.008;
const REACH = 1.6;

/** Contrast of what is small against what is around it. The surroundings are found by guided filters, which stop at edges: no halos at a roof against the sky. */
export const localContrast = defineKind({
  id: 'local-contrast',
  family: 'tone',
  label: 'Local contrast',
  note: 'Brings out texture and shapes, or softens them.',
  space: 'encoded',
  params: {
    broad: percent({ label: 'Broad', min: -1 }),
    medium: percent({ label: 'Medium', min: -1 }),
    fine: percent({ label: 'Fine', min: -1 }),
  },
  byDefault: 'neutral',
  shown: { broad: 0.4, medium: 0.3 },
  work: (read, values, { edge }) => {
    return (['broad', 'medium', 'fine'] as const)
      .filter((scale) => values[scale] !== 0)
      .reduce((image, scale) => {
        const amount = values[scale];
        return detail(image, base(read, SCALES[scale] * edge, EDGE), amount > 0 ? amount * REACH : amount * 0.85);
      }, read);
  },
});
