import type { Image } from '../expressions/image';
import { byHue, fromOklab, smoothColour, toOklab } from '../expressions/colour';
import { atHue, bandBoard, bandParams, bandValues, governing, movedParam } from './band-params';
import { defineKind } from './define';
import { hueTable } from './tables';

/** Chroma at which a band works by half: greys stay, and noise in a pale sky does not become blotches. */
export const KNEE = 0.03;
/** How far colour is smoothed along edges before it decides, as a share of the long edge. */
const SMOOTH = 0.003;
/** What decides how much of each band a place has, in OKLab. */
export const governingColour = (read: Image, edge: number): Image => toOklab(smoothColour(read, SMOOTH * edge));
const TURN_DEG = 35;
const LIFT = 0.22;

/** Hue, saturation and lightness of nine bands of hue, in OKLab. */
export const hueBands = defineKind({
  id: 'hue-bands',
  family: 'colour',
  label: 'Hue bands',
  note: 'Hue, saturation and lightness of each colour.',
  space: 'encoded',
  params: { ...bandParams('hue', 'Hue'), ...bandParams('saturation', 'Saturation'), ...bandParams('lightness', 'Lightness') },
  boards: [bandBoard('hue', 'Hue'), bandBoard('saturation', 'Saturation'), bandBoard('lightness', 'Lightness')],
  byDefault: 'neutral',
  shown: { lightnessSky: -0.6, saturationSky: 0.4, lightnessBlue: -0.6 },
  drag: (spot, values, amount, section = 'Lightness') => {
    const band = governing(spot, section.toLowerCase());
    return band && movedParam(values, band.name, amount, `${band.label} ${section.toLowerCase()}`);
  },
  work: (read, values, { edge }) => {
    const [hue, saturation, lightness] = ['hue', 'saturation', 'lightness'].map((stem) => bandValues(values, stem)) as [number[], number[], number[]];
    const all = [...hue, ...saturation, ...lightness];
    if (all.every((v) => v === 0)) return read;
    const change = (at: number) => ({ turnDeg: TURN_DEG * atHue(hue, at), gain: 1 + atHue(saturation, at), lift: LIFT * atHue(lightness, at) });
    return fromOklab(byHue(toOklab(read), governingColour(read, edge), hueTable(`hue-bands ${all.join(' ')}`, change), KNEE));
  },
});
