import fs from 'node:fs';
import path from 'node:path';
import { referenceKernels } from '../kernels/reference';
import { instantiate, newMemory, type Kernels } from '../src/pixels/kernels';
import { Engine } from '../src/engine/engine';
import { nameOf, Resources, traceOf, type Stroke } from '../src/resources';
import { kindOf, revisionOf, type KindId } from '../src/kinds';
import { defaults, valueBetween, type ParamValue, type Referent } from '../src/params';
import { emptyStack, plainChannel, type Group, type KindLayer, type Layer, type Stack } from '../src/stack/schema';

/** What the stacks of tests name. */
export const resources = new Resources();

const file = path.join(import.meta.dirname, '../build/kernels.wasm');
let compiled: WebAssembly.Module | undefined;

/** The built WebAssembly kernels on a memory. */
export async function fastKernels(memory: WebAssembly.Memory): Promise<Kernels> {
  compiled ??= await WebAssembly.compile(fs.readFileSync(file));
  return instantiate(compiled, memory);
}

export const slowKernels = (memory: WebAssembly.Memory): Promise<Kernels> => Promise.resolve(referenceKernels(memory));

export async function newEngine(make = fastKernels): Promise<Engine> {
  const memory = newMemory(true);
  return new Engine(memory, await make(memory), 1, undefined, undefined, undefined, resources);
}

let count = 0;
export function layer(kind: KindId, params: Record<string, ParamValue> = {}, rest: Partial<KindLayer> = {}): KindLayer {
  const definition = kindOf(kind);
  return {
    id: `l${++count}`,
    name: definition.label,
    kind,
    ...plainChannel,
    // As a new layer is: by the newest work of its kind.
    ...(revisionOf(definition) > 1 && { revision: revisionOf(definition) }),
    ...rest,
    params: { ...defaults(definition.params), ...params },
    ...(definition.holds && { layers: rest.layers ?? [] }),
  };
}

/** Another photo for layers that lay one over, of about as many pixels as proofs have. */
export const PICTURE = 'test-picture';
const ANOTHER = { width: 60, height: 44, depth: 8, channels: 4 } as const;
resources.pictures.set(PICTURE, {
  layout: ANOTHER,
  bytes: Uint8Array.from({ length: ANOTHER.width * ANOTHER.height * 4 }, (_, i) => {
    const [x, y, c] = [Math.floor(i / 4) % ANOTHER.width, Math.floor(i / 4 / ANOTHER.width), i % 4];
    if (c === 3) return x < 12 ? 120 + 6 * y : 255;
    return Math.round(128 + 110 * Math.sin(x / 4 + c + y / 9) * Math.cos(y / 5 + c));
  }),
});

/** A colour table that turns colours round and bends them. */
export const TABLE = 'test.cube';
const SIZE = 9;
resources.setCube(TABLE, {
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

/** A painting of a few strokes that go over each other and over themselves, one of which takes away. */
export const PAINTED = paint(
  {
    points: [
      [0.1, 0.1, 0.4],
      [0.4, 0.35, 1],
      [0.7, 0.2, 0.7],
      [0.3, 0.15, 0.9],
    ],
    size: 0.09,
    softness: 0.8,
    flow: 0.7,
    pressure: 'size',
  },
  {
    points: [
      [0.2, 0.5, 1],
      [0.8, 0.3, 0.3],
    ],
    size: 0.12,
    softness: 0.3,
    flow: 0.9,
    pressure: 'flow',
  },
  {
    points: [
      [0.5, 0.05, 1],
      [0.45, 0.6, 1],
    ],
    size: 0.05,
    softness: 0,
    flow: 0.6,
    erase: true,
  },
  { points: [[0.85, 0.5, 1]], size: 0.1, softness: 1, flow: 1 },
);

/** Strokes one after another, by places from the corner of a photo of 3 to 2 and pressures; gives the name of the painting. */
export function paint(...strokes: (Partial<Stroke> & { readonly points: readonly (readonly number[])[] })[]): string {
  return strokes.reduce((after, { points, ...rest }) => {
    const trace = traceOf(points.map(([x = 0, y = 0, pressure = 1], i) => ({ x: x - 1 / 2, y: y - 1 / 3, pressure, ms: 8 * i })));
    const painted = { after, stroke: { size: 0.05, softness: 0.5, flow: 1, erase: false, pressure: 'none' as const, ...rest, trace } };
    resources.strokes.set(nameOf(painted), painted);
    return nameOf(painted);
  }, '');
}

/** The names of what tests have at hand. */
export const nameOfAny = (of: Referent): string => ({ file: TABLE, photo: PICTURE, painting: PAINTED, layer: '' })[of];

/** Params of a kind, all at their least, at their most, at odd places between, and at their defaults. */
export function extremes(id: KindId): Record<string, ParamValue>[] {
  const params = Object.entries(kindOf(id).params);
  const all = (share: (i: number) => number): Record<string, ParamValue> =>
    Object.fromEntries(params.map(([name, param], i) => [name, valueBetween(param, share(i), nameOfAny)]));
  return [all(() => 0), all(() => 1), all((i) => 0.3 + 0.4 * ((i * 0.618) % 1)), {}];
}

export const group = (layers: Layer[], rest: Partial<Group> = {}): Group => ({
  id: `g${++count}`,
  name: 'Group',
  kind: 'group',
  ...plainChannel,
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
