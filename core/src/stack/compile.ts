import type { Gate } from '../masks/gate';
import { curveFunction, isLevel, tabulate, type Curve } from '../masks/curve';
import { kindOf, type Frame, type Work } from '../kinds';
import type { ModeId } from '../blend';
import type { Layer, Stack } from './schema';

/** A value of a program: 0 is the photo. The same number means the same pixels for as long as its `Names` live. */
export type Value = number;
export const PHOTO: Value = 0;

export type Step =
  | { readonly do: 'affine'; readonly to: Value; readonly from: Value; readonly gain: number; readonly offset: number }
  | { readonly do: 'curve'; readonly to: Value; readonly from: Value; readonly table: string }
  | { readonly do: 'blur'; readonly to: Value; readonly from: Value; readonly sigmaPx: number }
  | {
      readonly do: 'mix';
      readonly to: Value;
      readonly under: Value;
      readonly over: Value;
      readonly mode: ModeId;
      readonly strength: number;
      /** Tables of the gate, where it does anything. */
      readonly own?: string;
      readonly beneath?: string;
    }
  | { readonly do: 'fade'; readonly to: Value; readonly from: Value; readonly toward: Value; readonly t: number };

/** A stack as straight-line work on values, each made once, before it is used. */
export interface Program {
  readonly steps: readonly Step[];
  readonly out: Value;
  /** The tones that a watched layer's gate looks at. */
  readonly watched?: { readonly own: Value; readonly beneath: Value };
  readonly tables: ReadonlyMap<string, () => Float32Array>;
}

/** Numbers for values by what they are made of. Kept from one program to the next, so that unchanged work is known again. */
export class Names {
  private readonly numbers = new Map<string, Value>();
  private next = PHOTO + 1;

  of(recipe: string): Value {
    const known = this.numbers.get(recipe);
    if (known !== undefined) return known;
    const value = this.next++;
    this.numbers.set(recipe, value);
    return value;
  }
}

/** Reads a value may come from. */
export function inputsOf(step: Step): readonly Value[] {
  if (step.do === 'mix') return [step.under, step.over];
  if (step.do === 'fade') return [step.from, step.toward];
  return [step.from];
}

export interface Watch {
  /** The layer whose tones are wanted. */
  readonly layer: string;
}

/** The program of a checked stack for a picture of a size. Layers that are off or at strength 0 leave no trace. */
export function compile(stack: Stack, frame: Frame, names: Names, watch?: Watch): Program {
  const steps = new Map<Value, Step>();
  const tables = new Map<string, () => Float32Array>();
  let watched: Program['watched'];

  const emit = (recipe: string, make: (to: Value) => Step): Value => {
    const to = names.of(recipe);
    if (!steps.has(to)) steps.set(to, make(to));
    return to;
  };
  const table = (id: string, f: (x: number) => number): string => {
    if (!tables.has(id)) tables.set(id, () => tabulate(f));
    return id;
  };
  const gateTable = (c: Curve): string | undefined => (isLevel(c) ? undefined : table(`curve ${JSON.stringify(c)}`, curveFunction(c)));

  const work = (from: Value, item: Work): Value => {
    if (item.do === 'affine') return emit(`affine ${item.gain} ${item.offset} #${from}`, (to) => ({ ...item, to, from }));
    if (item.do === 'curve') {
      const id = table(item.id, item.f);
      return emit(`curve ${id} #${from}`, (to) => ({ do: 'curve', to, from, table: id }));
    }
    return emit(`blur ${item.sigmaPx} #${from}`, (to) => ({ do: 'blur', to, from, sigmaPx: item.sigmaPx }));
  };
  const resultOf = (layer: Layer, feed: Value): Value =>
    layer.kind === 'group' ? through(layer.layers, feed) : kindOf(layer.kind).work(layer.params, frame).reduce(work, feed);

  const mix = (under: Value, over: Value, { blend: mode, strength }: Layer, gate: Gate): Value => {
    if (mode === 'normal' && under === over) return under;
    const own = gateTable(gate.own);
    const beneath = gateTable(gate.beneath);
    if (mode === 'normal' && strength === 1 && !own && !beneath) return over;
    const recipe = `mix ${mode} ${strength} ${own ?? '-'} ${beneath ?? '-'} #${under} #${over}`;
    return emit(recipe, (to) => ({ do: 'mix', to, under, over, mode, strength, ...(own && { own }), ...(beneath && { beneath }) }));
  };

  function through(layers: readonly Layer[], from: Value): Value {
    return layers.reduce((image, layer) => {
      const live = layer.on && layer.strength > 0;
      if (!live && watch?.layer !== layer.id) return image;
      const result = resultOf(layer, layer.reads === 'photo' ? PHOTO : image);
      if (watch?.layer === layer.id) watched = { own: result, beneath: image };
      return live ? mix(image, result, layer, layer.gate) : image;
    }, from);
  }

  const image = through(stack.layers, PHOTO);
  const out = faded(image, stack.master);

  function faded(toward: Value, t: number): Value {
    if (t === 1 || toward === PHOTO) return toward;
    if (t === 0) return PHOTO;
    return emit(`fade ${t} #${PHOTO} #${toward}`, (to) => ({ do: 'fade', to, from: PHOTO, toward, t }));
  }

  return { steps: [...steps.values()], out, tables, ...(watched && { watched }) };
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
