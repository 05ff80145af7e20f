/** The nine hue bands: centres in degrees of OKLab hue, where the colours of things outdoors and of skin, leaves, water and sky lie apart. */
export const bands = [
  { id: 'red', label: 'Red', hue: 25 },
  { id: 'amber', label: 'Amber', hue: 62 },
  { id: 'yellow', label: 'Yellow', hue: 102 },
  { id: 'leaf', label: 'Leaf', hue: 138 },
  { id: 'teal', label: 'Teal', hue: 185 },
  { id: 'sky', label: 'Sky', hue: 232 },
  { id: 'blue', label: 'Blue', hue: 265 },
  { id: 'violet', label: 'Violet', hue: 305 },
  { id: 'rose', label: 'Rose', hue: 350 },
] as const;

const CENTRES = bands.map(({ hue }) => hue);

export type BandId = (typeof bands)[number]['id'];

/**
 * Weights of bands at a hue, the nine unless others are given by their centres, which rise: two neighbours share it by a raised cosine, so that they sum to 1
 * everywhere and change smoothly.
 */
export function bandWeights(hueDeg: number, centres: readonly number[] = CENTRES): number[] {
  const hue = ((hueDeg % 360) + 360) % 360;
  const weights = centres.map(() => 0);
  const next = centres.findIndex((centre) => centre > hue);
  const right = next === -1 ? 0 : next;
  const left = (right + centres.length - 1) % centres.length;
  const from = centres[left] as number;
  const width = ((centres[right] as number) - from + 360) % 360;
  const share = 0.5 - 0.5 * Math.cos((Math.PI * ((hue - from + 360) % 360)) / width);
  weights[left] = 1 - share;
  weights[right] = share;
  return weights;
}
