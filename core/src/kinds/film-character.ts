import { curves, mix, type Rows } from '../expressions/image';
import { fromLinear, lightMatrix, toLinear } from '../expressions/colour';
import { lumaOf } from '../pixels/gamut';
import { defineKind } from './define';
import { choice, percent } from '../params';
import { channelTables, rise } from './tables';

/**
 * A film, as what it does to light: dyes that take some of each other's light (`saturation` under 1 mixes the channels, over 1 parts them; `lean` moves
 * red, green, blue exposure in stops), then a curve with toe and shoulder for each channel.
 */
interface Film {
  readonly label: string;
  readonly family: 'Warm' | 'Cool' | 'Muted' | 'Mono';
  readonly saturation: number;
  readonly lean: readonly [number, number, number];
  readonly contrast: number;
  /** Where black and white of red, green, blue come to lie. */
  readonly toe: readonly [number, number, number];
  readonly shoulder: readonly [number, number, number];
  /** For monochrome films: what red, green and blue weigh. */
  readonly weights?: readonly [number, number, number];
}

export const films = {
  hearth: {
    label: 'Hearth',
    family: 'Warm',
    saturation: 1.05,
    lean: [0.16, 0.03, -0.14],
    contrast: 0.35,
    toe: [0.02, 0.015, 0.01],
    shoulder: [1, 0.985, 0.93],
  },
  apricot: {
    label: 'Apricot',
    family: 'Warm',
    saturation: 0.9,
    lean: [0.22, 0.06, -0.08],
    contrast: 0.15,
    toe: [0.05, 0.035, 0.03],
    shoulder: [0.99, 0.96, 0.91],
  },
  harvest: {
    label: 'Harvest',
    family: 'Warm',
    saturation: 1.2,
    lean: [0.1, 0.08, -0.2],
    contrast: 0.5,
    toe: [0.01, 0.01, 0],
    shoulder: [1, 0.98, 0.9],
  },
  harbour: {
    label: 'Harbour',
    family: 'Cool',
    saturation: 1,
    lean: [-0.12, 0, 0.14],
    contrast: 0.35,
    toe: [0.01, 0.02, 0.045],
    shoulder: [0.95, 0.985, 1],
  },
  slate: {
    label: 'Slate',
    family: 'Cool',
    saturation: 0.8,
    lean: [-0.08, -0.02, 0.1],
    contrast: 0.25,
    toe: [0.03, 0.04, 0.055],
    shoulder: [0.94, 0.965, 0.98],
  },
  glacier: {
    label: 'Glacier',
    family: 'Cool',
    saturation: 1.1,
    lean: [-0.2, 0.05, 0.2],
    contrast: 0.5,
    toe: [0, 0.01, 0.03],
    shoulder: [0.96, 1, 1],
  },
  linen: {
    label: 'Linen',
    family: 'Muted',
    saturation: 0.65,
    lean: [0.06, 0.03, -0.05],
    contrast: 0.1,
    toe: [0.07, 0.065, 0.06],
    shoulder: [0.96, 0.945, 0.91],
  },
  moss: {
    label: 'Moss',
    family: 'Muted',
    saturation: 0.7,
    lean: [-0.03, 0.07, -0.1],
    contrast: 0.2,
    toe: [0.05, 0.06, 0.05],
    shoulder: [0.94, 0.955, 0.88],
  },
  dust: {
    label: 'Dust',
    family: 'Muted',
    saturation: 0.5,
    lean: [0.08, 0, -0.02],
    contrast: 0.3,
    toe: [0.06, 0.05, 0.055],
    shoulder: [0.95, 0.92, 0.9],
  },
  graphite: {
    label: 'Graphite',
    family: 'Mono',
    saturation: 0,
    lean: [0, 0, 0],
    contrast: 0.35,
    toe: [0.015, 0.015, 0.015],
    shoulder: [0.99, 0.99, 0.99],
    weights: [0.26, 0.62, 0.12],
  },
  chalk: {
    label: 'Chalk',
    family: 'Mono',
    saturation: 0,
    lean: [0, 0, 0],
    contrast: 0.08,
    toe: [0.06, 0.06, 0.06],
    shoulder: [0.96, 0.96, 0.96],
    weights: [0.34, 0.5, 0.16],
  },
  ink: {
    label: 'Ink',
    family: 'Mono',
    saturation: 0,
    lean: [0, 0, 0],
    contrast: 0.75,
    toe: [0, 0, 0],
    shoulder: [1, 1, 1],
    weights: [0.48, 0.44, 0.08],
  },
  orthos: {
    label: 'Orthos',
    family: 'Mono',
    saturation: 0,
    lean: [0, 0, 0],
    contrast: 0.45,
    toe: [0.02, 0.02, 0.02],
    shoulder: [0.98, 0.98, 0.98],
    weights: [0.04, 0.62, 0.34],
  },
} as const satisfies Record<string, Film>;

const filmOf = (id: string): Film => films[id as keyof typeof films] ?? films.hearth;
const LUMA = lumaOf();

/** Twelve films and one more, of our own, in four families: warm, cool, muted, monochrome. */
export const filmCharacter = defineKind({
  id: 'film-character',
  family: 'film',
  label: 'Film character',
  note: 'The colours and tones of a film.',
  space: 'encoded',
  params: {
    film: choice(
      'Film',
      Object.entries(films).map(([id, { label }]) => ({ id, label })),
    ),
    amount: percent({ label: 'Amount', at: 1 }),
    contrast: percent({ label: 'Contrast', min: -1 }),
    fade: percent({ label: 'Fade' }),
  },
  byDefault: 'The film called Hearth.',
  variants: Object.entries(films).map(([id, { label }]) => ({ label, params: { film: id } })),
  work: (read, { film: id, amount, contrast, fade }, { gamut }) => {
    const film = filmOf(id);
    const developed = lightMatrix(toLinear(read), dyes(film), gamut);
    const printed = curves(fromLinear(developed), channelTables(`film ${id} ${contrast} ${fade}`, print(film, contrast, fade)));
    return mix('normal', read, printed, amount);
  },
});

/** Exposure of each dye from linear light; each row of a colour film without lean sums to 1, so that greys stay grey. */
function dyes({ saturation, lean, weights }: Film): Rows {
  if (weights) return [weights, weights, weights];
  const row = (i: 0 | 1 | 2): number[] => LUMA.map((w, j) => 2 ** lean[i] * ((i === j ? saturation : 0) + (1 - saturation) * w));
  return [row(0), row(1), row(2)];
}

/** Toe and shoulder: an S about the middle, then black and white where the film puts them; fading lifts one and softens the other. */
function print(film: Film, contrast: number, fade: number) {
  const steep = Math.min(1, Math.max(-0.6, film.contrast + 0.6 * contrast));
  const channel = (i: 0 | 1 | 2) => {
    const black = film.toe[i] + 0.16 * fade;
    const white = film.shoulder[i] - 0.1 * fade;
    return (x: number): number => black + (white - black) * (x + steep * (rise(0, 1, x) - x));
  };
  return [channel(0), channel(1), channel(2)] as const;
}
