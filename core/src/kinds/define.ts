import { z } from 'zod';

export type Family = 'tone' | 'colour' | 'film' | 'light' | 'focus' | 'finish' | 'picture' | 'hand';

/** Families in the order in which the rack shows them. */
export const families: readonly { readonly id: Family; readonly label: string }[] = [
  { id: 'tone', label: 'Tone' },
  { id: 'colour', label: 'Colour' },
  { id: 'film', label: 'Film' },
  { id: 'light', label: 'Light' },
  { id: 'focus', label: 'Focus' },
  { id: 'finish', label: 'Finish' },
  { id: 'picture', label: 'Picture' },
  { id: 'hand', label: 'Hand' },
];

/**
 * How a figure is shown. Stored values are always plain: a `percent` of 0.2 shows as 20 %, a `level` of 1 as 255, a `length` is a
 * fraction of the long edge and shows in pixels of the full-size photo.
 */
export type Unit = 'percent' | 'level' | 'length' | 'plain';

export interface NumberParam {
  readonly label: string;
  readonly unit: Unit;
  readonly min: number;
  readonly max: number;
  /** One step of a key. */
  readonly step: number;
  /** The default. */
  readonly at: number;
  /** Where the middle of the fader stands; without it, halfway. */
  readonly middle?: number;
}

export type Params = Readonly<Record<string, NumberParam>>;
export type Values<P extends Params = Params> = { readonly [K in keyof P]: number };

/** What a kind asks of the engine, one after another, on what it reads. */
export type Work =
  | { readonly do: 'affine'; readonly gain: number; readonly offset: number }
  | { readonly do: 'curve'; readonly id: string; readonly f: (x: number) => number }
  | { readonly do: 'gaussian'; readonly sigmaPx: number };

/** colour * gain + offset. */
export const affine = (gain: number, offset: number): Work => ({ do: 'affine', gain, offset });

/** The same tone curve for red, green and blue; input held in 0..1. `id` names the curve with all it depends on. */
export const curve = (id: string, f: (x: number) => number): Work => ({ do: 'curve', id, f });

/** Gaussian blur with a standard deviation in pixels of the picture that is being made. */
export const gaussian = (sigmaPx: number): Work => ({ do: 'gaussian', sigmaPx });

/** The size of the picture being made, in pixels. */
export interface Frame {
  readonly width: number;
  readonly height: number;
}

export interface Kind<Id extends string = string, P extends Params = Params> {
  readonly id: Id;
  readonly family: Family;
  readonly label: string;
  /** One plain sentence: what it does to a picture. */
  readonly note: string;
  /** The space of the values it works on. */
  readonly space: 'encoded';
  readonly params: P;
  /** What the default does: nothing, or what is said here. */
  readonly byDefault: 'neutral' | string;
  /** Values under which the rack shows a kind whose default is neutral. */
  readonly shown?: Partial<Values<P>>;
  /** The work to be done; an empty list leaves the picture as it is. */
  readonly work: (values: Values<P>, frame: Frame) => readonly Work[];
}

/** One kind of layer. Schema, controls, docs and the tests over all kinds follow from it. */
export const defineKind = <const Id extends string, const P extends Params>(kind: Kind<Id, P>): Kind<Id, P> => kind;

type Given = Partial<NumberParam> & { readonly label: string };

export const number = (given: Given): NumberParam => ({ unit: 'plain', min: 0, max: 1, step: 0.01, at: 0, ...given });
/** A share, stored as a fraction of 1. */
export const percent = (given: Given): NumberParam => number({ unit: 'percent', ...given });
/** A tone, 0 black to 1 white, shown as 0 to 255. */
export const toneLevel = (given: Given): NumberParam => number({ unit: 'level', step: 1 / 255, ...given });
/** A length as a fraction of the long edge. */
export const length = (given: Given): NumberParam => number({ unit: 'length', step: 0.0005, ...given });

/** The schema of a kind's parameters: all of them, in range, finite, nothing else. */
export function paramsSchema<P extends Params>(params: P): z.ZodType<Values<P>> {
  const shape = Object.fromEntries(Object.entries(params).map(([id, { min, max }]) => [id, z.number().min(min).max(max)]));
  return z.strictObject(shape) as unknown as z.ZodType<Values<P>>;
}

export function defaults<P extends Params>(params: P): Values<P> {
  return Object.fromEntries(Object.entries(params).map(([id, param]) => [id, param.at])) as Values<P>;
}
