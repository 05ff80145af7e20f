import { z } from 'zod';
import { figure, type Unit } from './figure';
import type { Common, ParamType } from './type';

/** A number within limits, moved by a fader. */
export interface NumberParam extends Common {
  readonly type: 'number';
  readonly unit: Unit;
  readonly min: number;
  readonly max: number;
  /** One step of a key. */
  readonly step: number;
  /** The default. */
  readonly at: number;
  /** Where the middle of the fader stands; without it, halfway. */
  readonly middle?: number;
  /** An OKLab hue in degrees that its fader is marked with. */
  readonly hue?: number;
  /** It only chooses among equals: another one can be had by a tap. */
  readonly seed?: true;
  /** The param that says how much of this hue: the two are shown as a wheel. */
  readonly amount?: string;
}

/** Long edge of the photo for which tables of kinds give lengths, in pixels. */
const TABLE_EDGE = 6000;

export const numberType: ParamType<NumberParam> = {
  type: 'number',
  schema: ({ min, max }) => z.number().min(min).max(max),
  range: (param) => {
    const say = (value: number): string => figure(param, value, TABLE_EDGE);
    return `${say(param.min)} to ${say(param.max)}, at first ${say(param.at)}`;
  },
  stored: ({ min, max, at }) => `${min} to ${max} (${Number(at.toFixed(4))})`,
  change: (param, before, after, edge) => `${param.label.toLowerCase()} ${figure(param, before, edge)} → ${figure(param, after, edge)}`,
  random: ({ min, max }, chance) => (chance.is(0.3) ? chance.of([min, max]) : chance.from(min, max)),
  between: ({ min, max }, share) => min + (max - min) * share,
  proofs: ({ label, min, max }) => [min, max].map((value) => ({ label: `${label} ${Number(value.toPrecision(3))}`, value })),
};

type Given = Partial<Omit<NumberParam, 'type'>> & { readonly label: string };

export const number = (given: Given): NumberParam => ({ type: 'number', unit: 'plain', min: 0, max: 1, step: 0.01, at: 0, ...given });
/** A share, stored as a fraction of 1. */
export const percent = (given: Given): NumberParam => number({ unit: 'percent', ...given });
/** A tone, 0 black to 1 white, shown as 0 to 255. */
export const toneLevel = (given: Given): NumberParam => number({ unit: 'level', step: 1 / 255, ...given });
/** A length as a fraction of the long edge. */
export const length = (given: Given): NumberParam => number({ unit: 'length', step: 0.0005, ...given });
/** A coordinate of a place on the uncropped photo, from its middle, in shares of its long edge. */
export const place = (given: Given): NumberParam => length({ min: -1.5, max: 1.5, step: 0.002, ...given });
/** A whole number that chance begins with. */
export const seed = (): NumberParam => number({ label: 'Seed', max: 999, step: 1, at: 1, seed: true });
/** Light in stops. */
export const stops = (given: Given): NumberParam => number({ unit: 'stops', min: -5, max: 5, step: 0.05, ...given });
/** A hue, in degrees of OKLab. */
export const angle = (given: Given): NumberParam => number({ unit: 'degrees', min: 0, max: 360, step: 1, ...given });
