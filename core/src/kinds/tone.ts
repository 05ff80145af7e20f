import { unit } from '../clamp';
import { affine, curve } from '../expressions/image';
import { regionAt } from '../measure/histogram';
import { movedParam } from './band-params';
import { defineKind } from './define';
import { percent } from '../params';
import { toneTable } from './tables';

/** How far a region moves at full: steep enough to be felt, never so steep that tones would turn over. */
const REACH = 0.9;
const ENDS = 0.16;

/**
 * Shadows, highlights, whites and blacks bend the tones, each by a lobe of its own that is level elsewhere. Then brightness moves all of them and
 * contrast spreads them about the middle: out = (in - 0.5) * 4^contrast + 0.5 + brightness, on encoded values, so that full contrast is four times
 * as steep and least contrast a quarter.
 */
export const tone = defineKind({
  id: 'tone',
  family: 'tone',
  label: 'Tone',
  note: 'Brightness, contrast, and each region of the tones.',
  space: 'encoded',
  params: {
    brightness: percent({ label: 'Brightness', min: -1 }),
    contrast: percent({ label: 'Contrast', min: -1 }),
    shadows: percent({ label: 'Shadows', min: -1 }),
    highlights: percent({ label: 'Highlights', min: -1 }),
    whites: percent({ label: 'Whites', min: -1 }),
    blacks: percent({ label: 'Blacks', min: -1 }),
  },
  byDefault: 'neutral',
  shown: { brightness: 0.1, contrast: 0.15 },
  drag: ({ tone: at }, values, amount) => {
    const { name, label } = regionAt(at);
    return movedParam(values, name, amount, label);
  },
  work: (read, { brightness, contrast, shadows, highlights, whites, blacks }) => {
    const bent = [shadows, highlights, whites, blacks].some((v) => v !== 0);
    const f = bend({ shadows, highlights, whites, blacks });
    const shaped = bent ? curve(read, toneTable(`tone ${shadows} ${highlights} ${whites} ${blacks}`, f)) : read;
    if (brightness === 0 && contrast === 0) return shaped;
    const slope = 4 ** contrast;
    return affine(shaped, slope, 0.5 - 0.5 * slope + brightness);
  },
});

interface Regions {
  readonly shadows: number;
  readonly highlights: number;
  readonly whites: number;
  readonly blacks: number;
}

/** The regions as a curve of encoded values: the ends first, then what lies between them. Both rise everywhere, so what they make together does. */
export const bend =
  ({ shadows, highlights, whites, blacks }: Regions) =>
  (x: number): number => {
    const y = unit(x + ENDS * (blacks * (1 - x) ** 6 + whites * x ** 6));
    return y + REACH * (shadows * y * (1 - y) ** 3 + highlights * y ** 3 * (1 - y));
  };
