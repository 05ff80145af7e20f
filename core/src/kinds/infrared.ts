import { affine, gaussian, matrix, mix, raise, type Image } from '../expressions/image';
import { byHue, chroma, fromOklab, toLinear, fromLinear, toOklab } from '../expressions/colour';
import { belongs, FOLIAGE, SKY } from '../measure/foliage';
import { defineKind } from './define';
import { choice, length, percent } from '../params';
import { grainOf } from './grain';
import { governingColour } from './hue-bands';
import { hueTable } from './tables';

const KNEE = 0.035;

/**
 * What infrared film might have recorded, guessed from colour: leaves shine, sky and water fall dark, the brightest parts spread a glow. Monochrome, or in
 * false colour with red and blue exchanged.
 */
export const infrared = defineKind({
  id: 'infrared',
  family: 'film',
  label: 'Infrared',
  note: 'Shining leaves under a dark sky.',
  space: 'encoded',
  params: {
    style: choice('Style', [
      { id: 'mono', label: 'Monochrome' },
      { id: 'false', label: 'False colour' },
    ]),
    foliage: percent({ label: 'Foliage', at: 0.6 }),
    sky: percent({ label: 'Sky and water', min: -1, max: 1, at: -0.6 }),
    glow: percent({ label: 'Glow', at: 0.25 }),
    spread: length({ label: 'Glow radius', min: 0.001, max: 0.05, at: 0.008, middle: 0.015 }),
    grain: percent({ label: 'Grain', at: 0.15 }),
  },
  byDefault: 'A monochrome infrared print.',
  fit: ({ foliage: leaves }) =>
    leaves < 0.08 ? `Little in the colours of leaves here, ${Math.round(leaves * 100)} %: infrared will look flat.` : undefined,
  work: (read, { style, foliage, sky, glow, spread, grain }, place) => {
    const mono = style === 'mono';
    const change = (at: number) => ({
      lift: 0.42 * foliage * belongs(FOLIAGE, at) + 0.4 * sky * belongs(SKY, at),
      gain: mono ? 1 : 1 - 0.6 * belongs(FOLIAGE, at) * foliage,
      turnDeg: 0,
    });
    const seen = byHue(toOklab(read), governingColour(read, place.edge), hueTable(`infrared ${style} ${foliage} ${sky}`, change), KNEE);
    const record: Image = mono
      ? fromOklab(chroma(seen, -1, 0))
      : matrix(fromOklab(seen), [
          [0, 0, 1],
          [0, 1, 0],
          [1, 0, 0],
        ]);
    const shining = gaussian(raise(toLinear(record), 1, 2.2, 1), spread * place.edge);
    const lit = glow === 0 ? record : mix('screen', record, fromLinear(affine(shining, glow * 0.7, 0)));
    return grain === 0 ? lit : grainOf(lit, { amount: grain, size: 14, softness: 0.3, roughness: 0.2, tint: 0, middle: 0.6, seed: 7 }, place);
  },
});
