import { matrix, type Rows } from '../expressions/image';
import { byHue, chroma, fromOklab, toOklab } from '../expressions/colour';
import { autoMix } from '../measure/auto-mix';
import { bands } from '../pixels/bands';
import { atHue, bandBoard, bandParams, bandValues, governing, movedParam } from './band-params';
import type { Rgb } from '../pixels/colour';
import { lumaOf } from '../pixels/gamut';
import { defineKind } from './define';
import { percent } from '../params';
import { governingColour, KNEE } from './hue-bands';
import { hueTable } from './tables';

const LIFT = 0.3;

/**
 * Monochrome. Each of nine bands of hue is made lighter or darker than its own lightness; red, green and blue add what they differ from the pixel's
 * tone, as a filter before the lens would. Greys stay as they are, whatever is mixed.
 */
export const monoMix = defineKind({
  id: 'mono-mix',
  family: 'colour',
  label: 'Mono mix',
  note: 'Monochrome, with each colour as light as you want it.',
  space: 'encoded',
  params: {
    ...bandParams('', 'Hues'),
    weightRed: percent({ label: 'Red', min: -1, section: 'Filter' }),
    weightGreen: percent({ label: 'Green', min: -1, section: 'Filter' }),
    weightBlue: percent({ label: 'Blue', min: -1, section: 'Filter' }),
  },
  boards: [bandBoard('', 'Hues')],
  byDefault: 'Monochrome by lightness.',
  auto: (seen) => ({ ...Object.fromEntries(bands.map(({ id }) => [id, 0])), ...autoMix(seen) }),
  drag: (spot, values, amount) => {
    const band = governing(spot, '');
    return band && movedParam(values, band.name, amount, band.label);
  },
  work: (read, values, { edge, gamut }) => {
    const weights = [values.weightRed, values.weightGreen, values.weightBlue] as const;
    const filtered = weights.every((w) => w === 0) ? read : matrix(read, filterRows(weights, lumaOf(gamut)));
    const lifts = bandValues(values, '');
    const lab = toOklab(filtered);
    const mixed = lifts.every((v) => v === 0)
      ? lab
      : byHue(
          lab,
          governingColour(filtered, edge),
          hueTable(`mono ${lifts.join(' ')}`, (at) => ({ lift: LIFT * atHue(lifts, at), gain: 1, turnDeg: 0 })),
          KNEE,
        );
    return fromOklab(chroma(mixed, -1, 0));
  },
});

/** v + sum of weight * (channel - luma), for all three alike. */
function filterRows(weights: readonly [number, number, number], luma: Rgb): Rows {
  const sum = weights[0] + weights[1] + weights[2];
  const added = weights.map((w, i) => w - sum * (luma[i] as number));
  const row = (i: number): number[] => added.map((v, j) => v + (i === j ? 1 : 0));
  return [row(0), row(1), row(2)];
}
