import { unit } from '../clamp';
import { curve, curves } from '../expressions/image';
import { defineKind } from './define';
import { number, toneLevel, type NumberParam } from '../params';
import { channelTables, toneTable } from './tables';

/** Input black and white are kept at least one 8-bit level apart. */
const LEAST_RANGE = 1 / 255;

/** Black, midtone, white; what black and white become. */
export type Five = readonly [number, number, number, number, number];

const MIDTONE = { min: 0.1, max: 10 };

const fields = ['Black', 'Midtone', 'White', 'OutBlack', 'OutWhite'] as const;
type Prefix = '' | 'red' | 'green' | 'blue';
type Name<P extends Prefix> = P extends '' ? Uncapitalize<(typeof fields)[number]> : `${P}${(typeof fields)[number]}`;

function nameOf(prefix: Prefix, name: string): string {
  return prefix ? prefix + name : name.charAt(0).toLowerCase() + name.slice(1);
}

function channel<const P extends Prefix>(prefix: P, section: string): Record<Name<P>, NumberParam> {
  const own: Record<(typeof fields)[number], NumberParam> = {
    Black: toneLevel({ label: 'Black', at: 0, section }),
    Midtone: number({ label: 'Midtone', ...MIDTONE, at: 1, middle: 1, step: 0.05, section }),
    White: toneLevel({ label: 'White', at: 1, section }),
    OutBlack: toneLevel({ label: 'Black becomes', at: 0, section }),
    OutWhite: toneLevel({ label: 'White becomes', at: 1, section }),
  };
  const named = Object.entries(own).map(([name, param]) => [nameOf(prefix, name), param]);
  return Object.fromEntries(named) as Record<Name<P>, NumberParam>;
}

/**
 * out = black' + (white' - black') * ((in - black) / (white - black))^(1 / midtone), input held between its black and white; for each of red,
 * green and blue, and then for all of them. Output ends may be crossed, which turns the tones over.
 */
export const levels = defineKind({
  id: 'levels',
  family: 'tone',
  label: 'Levels',
  note: 'Sets where black, middle and white lie.',
  space: 'encoded',
  params: { ...channel('', 'All'), ...channel('red', 'Red'), ...channel('green', 'Green'), ...channel('blue', 'Blue') },
  boards: (['', 'red', 'green', 'blue'] as const).map((prefix, i) => ({
    board: 'levels',
    section: ['All', 'Red', 'Green', 'Blue'][i] ?? 'All',
    params: fields.map((name) => nameOf(prefix, name)),
  })),
  byDefault: 'neutral',
  shown: { black: 0.08, white: 0.92, midtone: 1.2 },
  work: (read, values) => {
    const of = (prefix: Prefix): Five => fields.map((name) => Number(values[nameOf(prefix, name) as keyof typeof values])) as unknown as Five;
    const [all, red, green, blue] = [of(''), of('red'), of('green'), of('blue')];
    if ([all, red, green, blue].every(isNeutral)) return read;
    if ([red, green, blue].every(isNeutral)) return curve(read, toneTable(`levels ${all.join(' ')}`, level(all)));
    const through = (own: Five) => (x: number) => level(all)(level(own)(x));
    const id = `levels ${[all, red, green, blue].flat().join(' ')}`;
    return curves(read, channelTables(id, [through(red), through(green), through(blue)]));
  },
});

const isNeutral = ([black, midtone, white, outBlack, outWhite]: Five): boolean =>
  black === 0 && midtone === 1 && white === 1 && outBlack === 0 && outWhite === 1;

const level = ([black, midtone, white, outBlack, outWhite]: Five) => {
  const range = Math.max(LEAST_RANGE, white - black);
  return (x: number): number => outBlack + (outWhite - outBlack) * unit((x - black) / range) ** (1 / midtone);
};

/** Where the five stand on a scale of tones 0..1; the midtone at the input that becomes the middle. */
export const levelPlaces = ([black, midtone, white, outBlack, outWhite]: Five): Five => [
  black,
  black + (white - black) * 0.5 ** midtone,
  white,
  outBlack,
  outWhite,
];

/** Levels after one of the five was put at a place 0..1, which is held where it can be; tones in steps of an 8-bit level, the midtone of a hundredth. */
export function levelsPlaced(value: Five, which: number, at: number): Five {
  const [black, midtone, white, outBlack, outWhite] = value;
  const tone = Math.round(unit(at) * 255) / 255;
  if (which === 0) return [Math.min(tone, white - LEAST_RANGE), midtone, white, outBlack, outWhite];
  if (which === 2) return [black, midtone, Math.max(tone, black + LEAST_RANGE), outBlack, outWhite];
  if (which === 3) return [black, midtone, white, tone, outWhite];
  if (which === 4) return [black, midtone, white, outBlack, tone];
  const share = Math.min(0.995, Math.max(0.005, (at - black) / Math.max(LEAST_RANGE, white - black)));
  const bent = Math.round((100 * Math.log(share)) / Math.log(0.5)) / 100;
  return [black, Math.min(MIDTONE.max, Math.max(MIDTONE.min, bent)), white, outBlack, outWhite];
}
