import type { ModeId } from '../blend';
import type { Matrix } from '../geometry/matrix';
import type { Filtering } from '../expressions/filters';
import type { OpId } from '../expressions/ops';
import type { Rgb } from '../pixels/colour';

/** A value of a program: 0 is the photo. The same number means the same pixels for as long as its `ValueNumbers` live. */
export type Value = number;
export const PHOTO: Value = 0;

export type Step =
  | {
      readonly do: 'point';
      readonly to: Value;
      readonly op: OpId;
      readonly from: readonly Value[];
      readonly numbers: readonly number[];
      readonly table?: string;
    }
  | {
      readonly do: 'blur';
      readonly to: Value;
      readonly from: Value;
      readonly sigmaPx: number;
      /** Of four numbers, not colours. */ readonly numbers?: true;
      /** By another filter than a Gaussian; `sigmaPx` is nothing then. */
      readonly by?: Filtering;
    }
  | {
      readonly do: 'mix';
      readonly to: Value;
      readonly under: Value;
      readonly over: Value;
      readonly mode: ModeId;
      readonly strength: number;
      /** Coverage by which it is mixed in. */
      readonly mask?: Value;
      /** Tables of the gate, where it does anything. */
      readonly own?: string;
      readonly beneath?: string;
      /** What red, green and blue weigh in the tones that the gate looks at. */
      readonly weights?: Rgb;
      /** Both inputs lie between black and white. */
      readonly inside?: true;
    }
  /** Another photo, resampled: straight colour and alpha. `key` tells which pixels it has. */
  | { readonly do: 'picture'; readonly to: Value; readonly name: string; readonly key: string; readonly map: Matrix }
  | { readonly do: 'fade'; readonly to: Value; readonly from: Value; readonly toward: Value; readonly t: number }
  /** A run of steps on each channel alone, by a table; `alike` if one serves all channels. */
  | { readonly do: 'fused'; readonly to: Value; readonly from: Value; readonly steps: readonly Step[]; readonly alike: boolean };

export type FusedStep = Extract<Step, { do: 'fused' }>;

/** The tones that a watched layer's gate looks at, and what red, green and blue weigh in them. */
export interface Watched {
  readonly own: Value;
  readonly beneath: Value;
  readonly weights: Rgb;
}

/** A stack as straight-line work on values, each made once, before it is used. */
export interface Program {
  readonly steps: readonly Step[];
  readonly out: Value;
  readonly watched?: Watched;
  readonly tables: ReadonlyMap<string, () => Float32Array>;
  /** Values whose pixels are four numbers, not colours. */
  readonly numbers: ReadonlySet<Value>;
}

/** Programs in a row after which a number that none of them used is forgotten. */
const REMEMBERED = 64;
/** So few numbers are not worth looking through. */
const FEW = 1024;

/**
 * Value numbering: a number for each value, by the recipe it is made of. Kept from one program to the next, so that unchanged work is known again. Recipes that have
 * not been used for some programs are forgotten; their numbers are never given again.
 */
export class ValueNumbers {
  private readonly known = new Map<string, { readonly value: Value; used: number }>();
  private next = PHOTO + 1;
  private program = 0;
  private worthLooking = FEW;

  /** How many recipes are remembered. */
  get size(): number {
    return this.known.size;
  }

  /** A new program begins. */
  begin(): void {
    this.program++;
    if (this.known.size < this.worthLooking) return;
    for (const [recipe, { used }] of this.known) if (used < this.program - REMEMBERED) this.known.delete(recipe);
    this.worthLooking = Math.max(FEW, 2 * this.known.size);
  }

  of(recipe: string): Value {
    const known = this.known.get(recipe);
    if (known) {
      known.used = this.program;
      return known.value;
    }
    const value = this.next++;
    this.known.set(recipe, { value, used: this.program });
    return value;
  }
}

/** Reads a value may come from. */
export function inputsOf(step: Step): readonly Value[] {
  if (step.do === 'mix') return step.mask === undefined ? [step.under, step.over] : [step.under, step.over, step.mask];
  if (step.do === 'fade') return [step.from, step.toward];
  if (step.do === 'picture') return [];
  if (step.do === 'point') return step.from;
  return [step.from];
}

/** The steps that some values need, in order. `have` are values that are at hand already. */
export function slice(steps: readonly Step[], wanted: readonly Value[], have: ReadonlySet<Value>): Step[] {
  const needed = new Set(wanted);
  const kept: Step[] = [];
  for (const step of [...steps].reverse()) {
    if (!needed.has(step.to) || have.has(step.to)) continue;
    kept.unshift(step);
    inputsOf(step).forEach((value) => needed.add(value));
  }
  return kept;
}
