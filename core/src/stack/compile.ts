import type { Gate } from '../masks/gate';
import { curveFunction, isLevel, tabulate, type Curve } from '../masks/curve';
import type { FilmPlace } from '../geometry/shape';
import { kindOf, type Space } from '../kinds';
import { fromLinear, fromOklab, matrix, source, toLinear, toOklab, type Image, type Rows, type Table } from '../work/image';
import { opOf, undoes, type Content, type OpId } from '../work/ops';
import type { ModeId } from '../blend';
import type { Layer, Stack } from './schema';

/** A value of a program: 0 is the photo. The same number means the same pixels for as long as its `Names` live. */
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
    }
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
      /** Both inputs lie between black and white. */
      readonly inside?: true;
    }
  | { readonly do: 'fade'; readonly to: Value; readonly from: Value; readonly toward: Value; readonly t: number }
  /** A run of steps on each channel alone, by a table; `alike` if one serves all channels. */
  | { readonly do: 'fused'; readonly to: Value; readonly from: Value; readonly steps: readonly Step[]; readonly alike: boolean };

export type FusedStep = Extract<Step, { do: 'fused' }>;

/** How each space is entered from encoded values and left again. */
const spaces: Record<Space, { enter: Image; leave: (image: Image) => Image }> = {
  encoded: { enter: source, leave: (image) => image },
  linear: { enter: toLinear(source), leave: fromLinear },
  oklab: { enter: toOklab(source), leave: fromOklab },
};

/** A stack as straight-line work on values, each made once, before it is used. */
export interface Program {
  readonly steps: readonly Step[];
  readonly out: Value;
  /** The tones that a watched layer's gate looks at. */
  readonly watched?: { readonly own: Value; readonly beneath: Value };
  readonly tables: ReadonlyMap<string, () => Float32Array>;
  /** Values whose pixels are four numbers, not colours. */
  readonly numbers: ReadonlySet<Value>;
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
  if (step.do === 'point') return step.from;
  return [step.from];
}

/** Whether a step makes nothing beyond black and white out of what lies between them. */
function staysInside(step: Step): boolean {
  if (step.do === 'mix') return step.strength <= 1;
  if (step.do === 'fade') return step.t <= 1;
  return step.do === 'blur' || (step.do === 'point' && opOf(step.op).inside === true);
}

/** The primaries of the finished picture; encoded as sRGB is. */
export type Gamut = 'srgb' | 'display-p3';

/** Linear sRGB to linear Display P3 (CSS Color Module Level 4, sample code for "Conversions"). */
const TO_P3: Rows = [
  [0.8224619687, 0.1775380313, 0],
  [0.0331941989, 0.9668058011, 0],
  [0.0170826307, 0.0723974407, 0.9105199286],
];

export interface Watch {
  /** The layer whose tones are wanted. */
  readonly layer: string;
}

/** The program of a checked stack for a picture at its place. Layers that are off or at strength 0 leave no trace. */
export function compile(stack: Stack, place: FilmPlace, names: Names, watch?: Watch, gamut: Gamut = 'srgb'): Program {
  const steps = new Map<Value, Step>();
  const tables = new Map<string, () => Float32Array>();
  const numbers = new Set<Value>();
  const contentOf = (value: Value): Content => (numbers.has(value) ? 'numbers' : 'colour');
  /** Values between black and white. */
  const inside = new Set<Value>([PHOTO]);
  let watched: Program['watched'];

  const emit = (recipe: string, make: (to: Value) => Step): Value => {
    const to = names.of(recipe);
    if (steps.has(to)) return to;
    const step = make(to);
    const within = inputsOf(step).every((value) => inside.has(value));
    if (within && staysInside(step)) inside.add(to);
    steps.set(to, within && step.do === 'mix' ? { ...step, inside: true } : step);
    return to;
  };
  const table = ({ id, make }: Table): string => {
    if (!tables.has(id)) tables.set(id, make);
    return id;
  };
  const gateTable = (c: Curve): string | undefined =>
    isLevel(c) ? undefined : table({ id: `curve ${JSON.stringify(c)}`, make: () => tabulate(curveFunction(c)) });

  /** The value of an expression on what a layer reads. */
  const valueOf = (image: Image, read: Value): Value => {
    if (image.make === 'source') return read;
    if (image.make === 'blur') {
      const { sigmaPx } = image;
      const from = valueOf(image.from, read);
      const of = contentOf(from);
      const to = emit(`blur ${sigmaPx} #${from}`, (made) => ({ do: 'blur', to: made, from, sigmaPx, ...(of === 'numbers' && { numbers: true }) }));
      if (of === 'numbers') numbers.add(to);
      return to;
    }
    if (image.make === 'mix') {
      const { mode, strength } = image;
      const [under, over] = [valueOf(image.under, read), valueOf(image.over, read)];
      return emit(`mix ${mode} ${strength} - - #${under} #${over}`, (to) => ({ do: 'mix', to, under, over, mode, strength }));
    }
    const { op, numbers: given } = image;
    const from = image.from.map((each) => valueOf(each, read));
    const { takes, gives } = opOf(op);
    from.forEach((value, i) => {
      if (contentOf(value) !== takes[i]) throw new Error(`${op} takes ${takes[i]} as its input ${i + 1}, not ${contentOf(value)}`);
    });
    const last = steps.get(from[0] as Value);
    if (last?.do === 'point' && undoes[op] === last.op) return last.from[0] as Value;
    const id = image.table && table(image.table);
    const recipe = `${op} ${given.join(' ')} ${id ?? '-'} ${from.map((v) => `#${v}`).join(' ')}`;
    const to = emit(recipe, (made) => ({ do: 'point', to: made, op, from, numbers: given, ...(id !== undefined && { table: id }) }));
    if (gives === 'numbers') numbers.add(to);
    return to;
  };
  const resultOf = (layer: Layer, feed: Value): Value => {
    if (layer.kind === 'group') return through(layer.layers, feed);
    const kind = kindOf(layer.kind);
    const { enter, leave } = spaces[kind.space];
    const made = kind.work(enter, layer.params, place);
    return made === enter ? feed : valueOf(leave(made), feed);
  };

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
  const mastered = faded(image, stack.master);
  const out = gamut === 'srgb' ? mastered : valueOf(fromLinear(matrix(toLinear(source), TO_P3)), mastered);

  function faded(toward: Value, t: number): Value {
    if (t === 1 || toward === PHOTO) return toward;
    if (t === 0) return PHOTO;
    return emit(`fade ${t} #${PHOTO} #${toward}`, (to) => ({ do: 'fade', to, from: PHOTO, toward, t }));
  }

  return { steps: [...steps.values()], out, tables, numbers, ...(watched && { watched }) };
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
