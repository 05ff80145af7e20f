import { bands, bandWeights, type BandId } from '../pixels/bands';
import type { Board } from './define';
import { percent, type NumberParam } from '../params';

type BandName<Stem extends string> = Stem extends '' ? BandId : `${Stem}${Capitalize<BandId>}`;
const nameOf = (stem: string, id: BandId): string => (stem ? `${stem}${id.charAt(0).toUpperCase()}${id.slice(1)}` : id);

/** A share of each band: names made of a stem and the band, or of the band alone. */
export function bandParams<const Stem extends string>(stem: Stem, section?: string): Record<BandName<Stem>, NumberParam> {
  const entries = bands.map(({ id, label, hue }) => [nameOf(stem, id), percent({ label, min: -1, hue, ...(section && { section }) })]);
  return Object.fromEntries(entries) as Record<BandName<Stem>, NumberParam>;
}

/** A stem's nine params as one strip. */
export const bandBoard = (stem: string, section: string): Board => ({ board: 'bands', section, params: bands.map(({ id }) => nameOf(stem, id)) });

/** The values of a stem's nine params, in the order of the bands. */
export const bandValues = (values: Readonly<Record<string, unknown>>, stem: string): number[] =>
  bands.map(({ id }) => Number(values[nameOf(stem, id)]));

/** Something given for each band, at a hue between them. */
export const atHue = (perBand: readonly number[], hueDeg: number): number =>
  bandWeights(hueDeg).reduce((sum, weight, i) => sum + weight * (perBand[i] as number), 0);

/** Chroma under which no band governs a place: it is grey to the eye. */
const GREY = 0.018;

/** The band that most governs a place, and its param with a stem; nothing for greys. */
export function governing(spot: { readonly chroma: number; readonly hueDeg: number }, stem: string): { label: string; name: string } | undefined {
  if (spot.chroma < GREY) return undefined;
  const weights = bandWeights(spot.hueDeg);
  const band = bands[weights.indexOf(Math.max(...weights))];
  return band && { label: band.label, name: nameOf(stem, band.id) };
}

/** One param moved by an amount, held in its range. */
export function movedParam(values: Readonly<Record<string, unknown>>, name: string, amount: number, label: string) {
  const value = Math.round(100 * Math.min(1, Math.max(-1, Number(values[name]) + amount))) / 100;
  return { label: `${label} ${value > 0 ? '+' : value < 0 ? '\u2212' : ''}${Math.round(Math.abs(value) * 100)} %`, values: { [name]: value } };
}
