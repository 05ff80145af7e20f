import { fromLinear, matrix, source, toLinear, type Rows } from '../expressions/image';
import type { FilmPlace } from '../geometry/shape';
import { Emitter } from './emitter';
import { LayerCompiler } from './layer-compiler';
import { lowered } from './lowering';
import { mapImage, type MapName } from './maps';
import { slice, type Program, type Value, type ValueNumbers } from './program';
import type { Stack } from './schema';

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

/** What is wanted besides the picture, or instead of it. */
export interface Asked {
  readonly watch?: Watch | undefined;
  readonly gamut?: Gamut | undefined;
  /** Instead of the picture, as greys. */
  readonly mask?: MapName | undefined;
}

/** The program of a checked stack for a picture at its place. */
export function compile(stack: Stack, place: FilmPlace, names: ValueNumbers, { watch, gamut = 'srgb', mask }: Asked = {}): Program {
  const emitter = new Emitter(place, names);
  const compiler = new LayerCompiler(stack, place, emitter, watch?.layer);
  if (mask !== undefined) {
    const out = lowered(emitter, mapImage(mask, stack, compiler, place), { value: compiler.beneath(mask) }).value;
    return { steps: slice(emitter.steps, [out], new Set()), out, tables: emitter.tables, numbers: emitter.numbers };
  }
  const out = inGamut(emitter, emitter.fade(compiler.result(), stack.master), gamut);
  const { watched } = compiler;
  return { steps: emitter.steps, out, tables: emitter.tables, numbers: emitter.numbers, ...(watched && { watched }) };
}

function inGamut(emitter: Emitter, value: Value, gamut: Gamut): Value {
  return gamut === 'srgb' ? value : lowered(emitter, fromLinear(matrix(toLinear(source), TO_P3)), { value }).value;
}
