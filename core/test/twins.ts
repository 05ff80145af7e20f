import { fastKernels, sequence, slowKernels } from './kernels';
import { newMemory, type Kernels } from '../src/pixels/kernels';
import { tabulate } from '../src/pixels/curve';

export const N = 37;
export const IN = 1 << 14;
export const IN2 = 1 << 15;
export const OUT = 1 << 16;
export const TABLE = 1 << 17;
export const LINE = 1 << 18;
export const SMALL = 1 << 19;
export const NOISE = (1 << 19) + (1 << 18);
/** For tables filled at random, whose neighbours differ as no real table's do. */
export const ROUGH = 2e-4;

/** The same memory image twice, one for each build. */
export async function both(): Promise<[{ k: Kernels; f: Float32Array; u: Uint8Array }, { k: Kernels; f: Float32Array; u: Uint8Array }]> {
  const make = async (kernels: typeof fastKernels) => {
    const memory = newMemory(true);
    memory.grow(32);
    const next = sequence(3);
    const f = new Float32Array(memory.buffer);
    for (let i = 0; i < 4 * 2000; i += 4) {
      const a = i % 12 === 0 ? 1 : Math.fround(next());
      for (const at of [IN, IN2, SMALL]) f.set([next() * a, next() * a, next() * a, a], at / 4 + i);
    }
    f.set(
      tabulate((x) => Math.sin(3 * x) ** 2),
      TABLE / 4,
    );
    return { k: await kernels(memory), f, u: new Uint8Array(memory.buffer) };
  };
  return [await make(fastKernels), await make(slowKernels)];
}

/** Fills the input with bytes at random. */
export const bytesIn = (_f: Float32Array, u: Uint8Array): void => {
  const next = sequence(11);
  for (let i = 0; i < 600; i++) u[IN + i] = next() * 256;
};

export const opaque = (f: Float32Array): void => {
  for (const at of [IN, IN2, SMALL]) for (let i = 3; i < 4 * 2000; i += 4) f[at / 4 + i] = 1;
};

export async function expectSame(
  run: (k: Kernels) => void,
  floats: number,
  prepare: (f: Float32Array, u: Uint8Array) => void = () => undefined,
  within = 2e-6,
): Promise<void> {
  const [fast, slow] = await both();
  for (const side of [fast, slow]) {
    prepare(side.f, side.u);
    run(side.k);
  }
  const [a, b] = [fast, slow].map(({ f }) => f.slice(OUT / 4, OUT / 4 + floats)) as [Float32Array, Float32Array];
  expect(b.findIndex(Number.isNaN)).toBe(-1);
  // One place at most is shown, with both its values: a million expectations would take their time.
  const off = a.findIndex((v, i) => !(Math.abs(v - (b[i] as number)) < within));
  expect({ off, fast: a[off], slow: b[off] }).toEqual({ off: -1, fast: undefined, slow: undefined });
}

export async function expectSameBytes(run: (k: Kernels) => void, bytes: number, prepare: (f: Float32Array) => void = () => undefined): Promise<void> {
  const [fast, slow] = await both();
  for (const side of [fast, slow]) {
    prepare(side.f);
    run(side.k);
  }
  expect([...fast.u.subarray(OUT, OUT + bytes)]).toEqual([...slow.u.subarray(OUT, OUT + bytes)]);
}
