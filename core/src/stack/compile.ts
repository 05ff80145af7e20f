import { source } from '../expressions/image';
import { converted } from '../expressions/colour';
import type { FilmPlace } from '../geometry/shape';
import { developed, developedProxy } from '../kinds/development';
import type { Gamut } from '../pixels/gamut';
import { Emitter } from './emitter';
import { LayerCompiler } from './layer-compiler';
import { lowered } from './lowering';
import { mapImage, type MapName } from './maps';
import { PHOTO, slice, type Program, type ValueNumbers } from './program';
import type { Stack } from './schema';

export interface Watch {
  /** The layer whose tones are wanted. */
  readonly layer: string;
}

/** What is wanted besides the picture, or instead of it. */
export interface Asked {
  readonly watch?: Watch | undefined;
  /** The primaries of what is made; those of the photo, unless said. */
  readonly gamut?: Gamut | undefined;
  /** Instead of the picture, as greys. */
  readonly mask?: MapName | undefined;
}

/** The program of a checked stack for a picture at its place. */
export function compile(stack: Stack, lies: FilmPlace, names: ValueNumbers, { watch, gamut, mask }: Asked = {}): Program {
  const { gamut: own = 'srgb', headroom, proxy } = lies;
  const place = proxy && stack.development ? { ...lies, proxy: developedProxy(proxy, stack.development, own) } : lies;
  const emitter = new Emitter(place, names);
  if (headroom !== undefined) emitter.photo = lowered(emitter, developed(headroom, stack.development, own), { value: PHOTO }).value;
  const compiler = new LayerCompiler(stack, place, emitter, watch?.layer);
  if (mask !== undefined) {
    const out = lowered(emitter, mapImage(mask, stack, compiler, place), { value: compiler.beneath(mask) }).value;
    return { steps: slice(emitter.steps, [out], new Set()), out, tables: emitter.tables, numbers: emitter.numbers };
  }
  const finished = emitter.fade(compiler.result(), stack.master);
  const out = lowered(emitter, converted(source, own, gamut ?? own), { value: finished }).value;
  const { watched } = compiler;
  return { steps: emitter.steps, out, tables: emitter.tables, numbers: emitter.numbers, ...(watched && { watched }) };
}
