import type { OpId } from '../../src/expressions/ops';
import { colour } from './colour';
import { film } from './film';
import { guide } from './guide';
import { masks } from './masks';
import type { Shaders } from './shaders';

const files = [colour, guide, masks, film] as const satisfies readonly Shaders[];

/** The body of each op. An op without one does not pass the type check. */
export const opShaders: Record<OpId, string> = { ...colour.ops, ...guide.ops, ...masks.ops, ...film.ops };

/** Numbers that are whole and may be larger than a float holds exactly, by their places. */
export const wholeNumbers: Partial<Record<OpId, readonly number[]>> = { grain: [4], filmGrain: [6] };

/** The functions that some ops call. */
export const helpersOf = (used: readonly OpId[]): string =>
  files
    .filter(({ ops }) => used.some((op) => op in ops))
    .map(({ helpers }) => helpers)
    .join('');

export { common } from './common';
export { mixing, modeShaders } from './modes';
export { filterShaders, halving, reading, storing } from './neighbourhood';
