import fs from 'node:fs';
import path from 'node:path';
import { referenceKernels } from '../kernels/reference';
import { instantiate, newMemory, type Kernels } from '../src/pixels/kernels';
import { Engine } from '../src/machine/engine';
import { provideCube } from '../src/formats/cube';
import { openGate } from '../src/masks/gate';
import { defaults, kindOf, type KindId, type Param, type ParamValue } from '../src/kinds';
import { emptyStack, type Group, type KindLayer, type Layer, type Stack } from '../src/stack/schema';

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
export function layer(kind: KindId, params: Record<string, ParamValue> = {}, rest: Partial<KindLayer> = {}): KindLayer {
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

const waves = {
  shape: 'smooth' as const,
  nodes: [
    [0, 1],
    [0.3, 0.1],
    [0.5, 0.9],
    [0.8, 0],
    [1, 0.7],
  ] as [number, number][],
};

/** A colour table that turns colours round and bends them. */
export const TABLE = 'test.cube';
const SIZE = 9;
provideCube(TABLE, {
  title: 'Test',
  dimensions: 3,
  size: SIZE,
  least: [0, 0, 0],
  most: [1, 1, 1],
  values: Float32Array.from(
    Array.from({ length: SIZE ** 3 }, (_, i) => {
      const [r, g, b] = [i % SIZE, Math.floor(i / SIZE) % SIZE, Math.floor(i / SIZE ** 2)].map((v) => v / (SIZE - 1)) as [number, number, number];
      return [g ** 1.2, 0.2 + 0.7 * b, r * (1 - 0.3 * g)];
    }).flat(),
  ),
});

function end(param: Param, share: number): ParamValue {
  if (param.type === 'number') return param.min + (param.max - param.min) * share;
  if (param.type === 'curve') return share === 0 ? param.at : waves;
  if (param.type === 'file') return share === 0 ? '' : TABLE;
  return (share < 0.5 ? param.options[0]?.id : param.options.at(-1)?.id) ?? param.at;
}

/** Params of a kind, all at their least, at their most, at odd places between, and at their defaults. */
export function extremes(id: KindId): Record<string, ParamValue>[] {
  const params = Object.entries(kindOf(id).params);
  const all = (share: (i: number) => number): Record<string, ParamValue> =>
    Object.fromEntries(params.map(([name, param], i) => [name, end(param, share(i))]));
  return [all(() => 0), all(() => 1), all((i) => 0.3 + 0.4 * ((i * 0.618) % 1)), {}];
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

export const stackOf = (...layers: Layer[]): Stack => ({ ...emptyStack, layers });

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
