import type { FilmPlace } from '../geometry/shape';
import type { Image } from '../expressions/image';
import { filmGrain, grain as grainOnPixels } from '../expressions/film';
import { defineKind } from './define';
import { number, percent, seed } from '../params';

/** The long edge of the film, in micrometres: a 36 mm frame. */
const FRAME_UM = 36_000;
/** Standard deviation of the strongest grain, in encoded values. */
const FULL = 0.13;
/** Lattice cells to a grain. */
const CELLS = 2;

export interface Grains {
  readonly amount: number;
  /** Of a grain, in micrometres on the film. */
  readonly size: number;
  readonly softness: number;
  readonly roughness: number;
  readonly tint: number;
  readonly middle: number;
  readonly seed: number;
}

/**
 * Grain of a size on the film. Where a pixel holds many grains they even out: the deviation falls as the number of cells along a pixel's side, and the
 * lattice becomes that of the pixels.
 */
export function grainOf(read: Image, { amount, size, softness, roughness, tint, middle, seed }: Grains, { edge, x, y }: FilmPlace): Image {
  const pixelUm = FRAME_UM / edge;
  const layer = (image: Image, um: number, strength: number, own: number): Image => {
    const cells = (pixelUm * CELLS) / (um * (1 + softness));
    return grainOnPixels(image, Math.min(1, cells), (FULL * strength) / Math.max(1, cells), tint, middle, own, x, y);
  };
  const share = 1 / Math.hypot(1, roughness);
  const plain = layer(read, size, amount * share, seed);
  return roughness === 0 ? plain : layer(plain, size * 2.6, amount * roughness * share, seed + 101);
}

/** Grain of a size on the film, as pixels of any size show it: the mean over each of them. */
function speckled(read: Image, { amount, size, softness, roughness, tint, middle, seed }: Grains, place: FilmPlace): Image {
  const pixelUm = FRAME_UM / place.edge;
  const layer = (image: Image, um: number, strength: number, own: number): Image =>
    filmGrain(image, { cells: (pixelUm * CELLS) / (um * (1 + softness)), deviation: FULL * strength, tint, middle, seed: own }, place);
  const share = 1 / Math.hypot(1, roughness);
  const plain = layer(read, size, amount * share, seed);
  return roughness === 0 ? plain : layer(plain, size * 2.6, amount * roughness * share, seed + 101);
}

/**
 * Film grain, strongest in the middle tones; it leaves the mean tone where it is. Its lattice lies on the film: at one size of the picture each part has the same grains, however it is cut
 * out or made in pieces, so that a close-up is what the file has. Another size has grains of its own, of the same strength and spectrum as the larger ones reduced.
 */
export const grain = defineKind({
  id: 'grain',
  family: 'film',
  label: 'Grain',
  note: 'The grain of a film, by size and tone.',
  space: 'encoded',
  params: {
    amount: percent({ label: 'Amount', at: 0.3 }),
    size: number({ label: 'Size', unit: 'micrometres', min: 4, max: 80, at: 16, step: 1, middle: 20 }),
    softness: percent({ label: 'Softness', at: 0.2 }),
    roughness: percent({ label: 'Roughness', at: 0.3 }),
    tint: percent({ label: 'Colour' }),
    middle: percent({ label: 'Middle tones only', at: 0.7 }),
    seed: seed(),
  },
  byDefault: 'Grain of 16 micrometres.',
  revision: 2,
  changes: 'It turns and mirrors with the photo, and previews show as much grain as the file has.',
  earlier: {
    1: (read, values, place) => (values.amount === 0 ? read : grainOf(read, { ...values, seed: Math.round(values.seed) }, place)),
  },
  work: (read, values, place) => (values.amount === 0 ? read : speckled(read, { ...values, seed: Math.round(values.seed) }, place)),
});
