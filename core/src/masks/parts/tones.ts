import { toneLevel } from '../../params';
import { tones as toneCoverage } from '../../expressions/coverage';
import { definePart } from '../part';

/** Tones from one to another, with soft ends; by the luma of the photo's encoded values. */
export const tones = definePart({
  id: 'tones',
  label: 'Tones',
  note: 'What is as bright as this.',
  reads: true,
  params: {
    from: toneLevel({ label: 'From', at: 0.6 }),
    to: toneLevel({ label: 'To', at: 1 }),
    softFrom: toneLevel({ label: 'Softness below', at: 0.15 }),
    softTo: toneLevel({ label: 'Softness above', at: 0.15 }),
  },
  pick: {
    drag: 'softFrom',
    values: ({ tone }) => ({ from: Math.max(0, tone - 0.06), to: Math.min(1, tone + 0.06), softFrom: 0.1, softTo: 0.1 }),
  },
  work: ({ from, to, softFrom, softTo }, { gamut }, picture) => {
    const [low, high] = [Math.min(from, to), Math.max(from, to)];
    // What ends at black or at white takes all that lies beyond, too.
    const [all, allTo] = [low <= 0 ? -8 : low, high >= 1 ? 9 : high];
    return toneCoverage(picture, [all - Math.max(softFrom, 1e-3), all, allTo, allTo + Math.max(softTo, 1e-3)], gamut);
  },
});
