import type { z } from 'zod';

/** What all parameters have, whatever their type. */
export interface Common {
  readonly label: string;
  /** The leaf of the controls on which it stands, where a kind has several. */
  readonly section?: string;
}

/** What a value may name that is kept elsewhere: a file, another photo, a painting (by its last stroke), another layer of the stack. */
export type Referent = 'file' | 'photo' | 'painting' | 'layer';

/** Where tests of properties get their values from. */
export interface Chance {
  /** Whether something happens that has this probability. */
  is(share: number): boolean;
  from(low: number, high: number): number;
  /** A whole number from 0 to n - 1. */
  below(n: number): number;
  of<T>(all: readonly T[]): T;
  /** The name of something that is at hand; the empty name, where nothing of that sort is. */
  name(of: Referent): string;
}

/** The least a parameter has: its type, by name, and its default. */
export interface Described extends Common {
  readonly type: string;
  readonly at: unknown;
}

/**
 * One type of parameter. The schema of layers, references, words, tables, proof sheets and tests over all parameters follow from it; its editor in the interface is
 * the only other place that knows it.
 */
export interface ParamType<P extends Described = Described> {
  readonly type: P['type'];
  /** What a stored value must be. */
  readonly schema: (param: P) => z.ZodType<P['at']>;
  /** What its values name, the empty text naming nothing. */
  readonly refersTo?: Referent;
  /** It lies somewhere on the photo, and stays there when a layer begins anew. */
  readonly placed?: true;
  /** The range and default as people read them. Lengths are of a photo of 6000 pixels. */
  readonly range: (param: P) => string;
  /** What a look file holds. */
  readonly stored: (param: P) => string;
  /** What a change did, behind the name of its layer: `radius 34 px → 51 px`. @param edge long edge of the full-size photo in pixels. */
  readonly change: (param: P, before: P['at'], after: P['at'], edge: number) => string;
  /** Any value that the schema takes. */
  readonly random: (param: P, chance: Chance) => P['at'];
  /** From its least (0) to its most (1); `name` gives what it may name. */
  readonly between: (param: P, share: number, name: Chance['name']) => P['at'];
  /** Values that a proof sheet shows beside the usual one. */
  readonly proofs: (param: P) => readonly { readonly label: string; readonly value: P['at'] }[];
}

/** A type of parameters whose ends say nothing about a picture: it is looked at as it is. */
export const asItIs = { between: <V>({ at }: { readonly at: V }): V => at, proofs: (): [] => [] };

/** A type of parameters whose values are names: the empty text, until something is chosen. */
export const naming = (refersTo: Referent) => ({
  refersTo,
  random: (_param: unknown, chance: Chance): string => chance.name(refersTo),
  between: (_param: unknown, share: number, name: Chance['name']): string => (share === 0 ? '' : name(refersTo)),
  proofs: (): [] => [],
});
