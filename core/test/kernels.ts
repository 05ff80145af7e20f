import fs from 'node:fs';
import path from 'node:path';
import { referenceKernels } from '../kernels/reference';
import { instantiate, newMemory, type Kernels } from '../src/pixels/kernels';
import { Engine } from '../src/stack/engine';
import { openGate } from '../src/masks/gate';
import { defaults, kindOf, type KindId } from '../src/kinds';
import type { Group, KindLayer, Layer, Stack } from '../src/stack/schema';

const file = path.join(__dirname, '../build/kernels.wasm');
let compiled: WebAssembly.Module | undefined;

/** The built WebAssembly kernels on a memory. */
export async function fastKernels(memory: WebAssembly.Memory): Promise<Kernels> {
  compiled ??= await WebAssembly.compile(fs.readFileSync(file));
  return instantiate(compiled, memory);
}

export const slowKernels = (memory: WebAssembly.Memory): Promise<Kernels> => Promise.resolve(referenceKernels(memory));

export async function newEngine(make = fastKernels): Promise<Engine> {
  const memory = newMemory(true);
  return new Engine(memory, await make(memory), 1);
}

let count = 0;
export function layer(kind: KindId, params: Record<string, number> = {}, rest: Partial<KindLayer> = {}): KindLayer {
  const definition = kindOf(kind);
  return {
    id: `l${++count}`,
    name: definition.label,
    kind,
    on: true,
    strength: 1,
    blend: 'normal',
    reads: 'below',
    gate: openGate,
    ...rest,
    params: { ...defaults(definition.params), ...params },
  };
}

export const group = (layers: Layer[], rest: Partial<Group> = {}): Group => ({
  id: `g${++count}`,
  name: 'Group',
  kind: 'group',
  on: true,
  strength: 1,
  blend: 'normal',
  reads: 'below',
  gate: openGate,
  ...rest,
  layers,
});

export const stackOf = (...layers: Layer[]): Stack => ({ schema: 1, master: 1, layers });

/** A repeatable sequence of numbers in 0..1. */
export function sequence(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

/** A smooth made-up picture with an edge, some texture and highlights: width x height x channels values in 0..1. */
export function scene(width: number, height: number, channels: 3 | 4): Float64Array {
  const next = sequence(7);
  const out = new Float64Array(width * height * channels);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const wave = 0.5 + 0.3 * Math.sin(x / 9) * Math.cos(y / 13) + (x > width / 2 ? 0.15 : -0.1) + 0.08 * (next() - 0.5);
      for (let c = 0; c < channels; c++)
        out[(y * width + x) * channels + c] = Math.min(1, Math.max(0, c === 3 ? 0.2 + 0.8 * wave : wave + 0.05 * (c - 1)));
    }
  return out;
}
