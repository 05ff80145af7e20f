import { percent, type Board, type NumberParam } from './define';

/** The eight hue bands: centres in degrees of OKLab hue, where the sRGB primaries and their mixtures lie. */
export const bands = [
  { id: 'red', label: 'Red', hue: 27 },
  { id: 'orange', label: 'Orange', hue: 58 },
  { id: 'yellow', label: 'Yellow', hue: 105 },
  { id: 'green', label: 'Green', hue: 143 },
  { id: 'aqua', label: 'Aqua', hue: 195 },
  { id: 'blue', label: 'Blue', hue: 258 },
  { id: 'purple', label: 'Purple', hue: 302 },
  { id: 'magenta', label: 'Magenta', hue: 340 },
] as const;

export type BandId = (typeof bands)[number]['id'];

/** Weights of the bands at a hue: two neighbours share it by a raised cosine, so that they sum to 1 everywhere and change smoothly. */
export function bandWeights(hueDeg: number): number[] {
  const hue = ((hueDeg % 360) + 360) % 360;
  const weights = bands.map(() => 0);
  const next = bands.findIndex((band) => band.hue > hue);
  const right = next === -1 ? 0 : next;
  const left = (right + bands.length - 1) % bands.length;
  const from = (bands[left] as (typeof bands)[number]).hue;
  const width = ((bands[right] as (typeof bands)[number]).hue - from + 360) % 360;
  const share = 0.5 - 0.5 * Math.cos((Math.PI * ((hue - from + 360) % 360)) / width);
  weights[left] = 1 - share;
  weights[right] = share;
  return weights;
}

type BandName<Stem extends string> = Stem extends '' ? BandId : `${Stem}${Capitalize<BandId>}`;
const nameOf = (stem: string, id: BandId): string => (stem ? `${stem}${id.charAt(0).toUpperCase()}${id.slice(1)}` : id);

/** A share of each band: names made of a stem and the band, or of the band alone. */
export function bandParams<const Stem extends string>(stem: Stem, section?: string): Record<BandName<Stem>, NumberParam> {
  const entries = bands.map(({ id, label, hue }) => [nameOf(stem, id), percent({ label, min: -1, hue, ...(section && { section }) })]);
  return Object.fromEntries(entries) as Record<BandName<Stem>, NumberParam>;
}

/** A stem's eight params as one strip. */
export const bandBoard = (stem: string, section: string): Board => ({ board: 'bands', section, params: bands.map(({ id }) => nameOf(stem, id)) });

/** The values of a stem's eight params, in the order of the bands. */
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
