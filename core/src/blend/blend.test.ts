import fc from 'fast-check';
import { modeOf, modes } from '.';
import { composite, type Pixel } from './composite';
import { mixName } from '../../kernels/reference';
import { newMemory } from '../pixels/kernels';
import { fastKernels } from '../../test/kernels';

/** Values of pictures: 0, or no smaller than a part in 2^24 of white; single precision has no digits left for what comes of less. */
const channel = fc.double({ min: 0, max: 1, noNaN: true }).map((v) => (v < 2 ** -24 ? 0 : v));
const pixel = fc
  .tuple(channel, channel, channel, channel)
  .map(([r, g, b, a]): Pixel => [Math.fround(r * a), Math.fround(g * a), Math.fround(b * a), Math.fround(a)]);

/** W3C Compositing and Blending Level 1, section 10, worked by hand: backdrop (0.2, 0.6, 0.9), source (0.7, 0.3, 0.5). */
const worked: Record<string, readonly [number, number, number]> = {
  normal: [0.7, 0.3, 0.5],
  multiply: [0.14, 0.18, 0.45],
  screen: [0.76, 0.72, 0.95],
  overlay: [0.28, 0.44, 0.9],
  darken: [0.2, 0.3, 0.5],
  lighten: [0.7, 0.6, 0.9],
  'color-dodge': [0.6666667, 0.8571429, 1],
  'color-burn': [0, 0, 0.8],
  'hard-light': [0.52, 0.36, 0.9],
  'soft-light': [0.2992, 0.504, 0.9],
  difference: [0.5, 0.3, 0.4],
  exclusion: [0.62, 0.54, 0.5],
  hue: [0.9645, 0.2645, 0.6145],
  saturation: [0.3341429, 0.5627143, 0.7341429],
  color: [0.771, 0.371, 0.571],
  luminosity: [0.129, 0.529, 0.829],
  add: [0.9, 0.9, 1],
  deepen: [0, 0, 0.4],
  push: [0.6, 0.2, 0.9],
  etch: [0.3333333, 0.3333333, 0.9],
  outdo: [0.4, 0.6, 0.9],
  subtract: [0, 0.3, 0.4],
  divide: [0.2857143, 1, 1],
  'darker-of-two': [0.7, 0.3, 0.5],
  'lighter-of-two': [0.2, 0.6, 0.9],
};

async function runKernel(
  mode: (typeof modes)[number],
  opaque: boolean,
  b: Pixel,
  s: Pixel,
  amount: number,
  last: number,
  inside = false,
): Promise<number[]> {
  const memory = newMemory(true);
  const kernels = await fastKernels(memory);
  const f = new Float32Array(memory.buffer);
  f.set(b, 1024);
  f.set(s, 2048);
  kernels[mixName(mode.id, opaque)](3072 * 4, 1024 * 4, 2048 * 4, 1, amount, 0, last, inside);
  return [...f.subarray(3072, 3076)];
}

describe.each(modes)('$id', (mode) => {
  it('gives the worked example', () => {
    mode.blend([0.2, 0.6, 0.9], [0.7, 0.3, 0.5]).forEach((v, i) => expect(v).toBeCloseTo(worked[mode.id]?.[i] as number, 6));
  });

  it('is the same in the kernel, within 1e-5, for any two pixels with alpha', async () => {
    const memory = newMemory(true);
    const kernels = await fastKernels(memory);
    fc.assert(
      fc.property(pixel, pixel, channel, fc.constantFrom<0 | 1>(0, 1), (b, s, amount, keep) => {
        const f = new Float32Array(memory.buffer);
        f.set(b, 1024);
        f.set(s, 2048);
        kernels[mixName(mode.id, false)](3072 * 4, 1024 * 4, 2048 * 4, 1, amount, 0, keep);
        const exact = composite(mode, b, s, amount, keep);
        return exact.every((v, c) => Math.abs((f[3072 + c] as number) - v) < 1e-5);
      }),
      { numRuns: 300 },
    );
  });

  it('is the very same where it need not hold what lies in 0..1', async () => {
    for (const b of [0, 0.2, 0.5, 0.999, 1])
      for (const s of [0, 0.3, 0.5, 0.75, 1]) {
        const [under, over]: [Pixel, Pixel] = [
          [b, 1 - b, 0.4, 1],
          [s, 0.6, 1 - s, 1],
        ];
        expect(await runKernel(mode, true, under, over, 0.7, 0, true)).toEqual(await runKernel(mode, true, under, over, 0.7, 0));
      }
  });

  it('agrees in its opaque and its full form', async () => {
    const b: Pixel = [0.2, 0.6, 0.9, 1];
    const s: Pixel = [0.7, 0.3, 0.5, 1];
    const opaque = await runKernel(mode, true, b, s, 0.6, 0);
    const full = await runKernel(mode, false, b, s, 0.6, 1);
    opaque.forEach((v, i) => expect(v).toBeCloseTo(full[i] as number, 6));
    expect(opaque[3]).toBe(1);
  });

  it('takes four channels of RGB rows at a time, where it works on channels', async () => {
    if (mode.by !== 'channel') return;
    const made = await runKernel(mode, true, [0.2, 0.6, 0.9, 0.35], [0.7, 0.3, 0.5, 0.8], 0.6, 0.6);
    const alone = composite(mode, [0.35, 0.35, 0.35, 1], [0.8, 0.8, 0.8, 1], 0.6, 0);
    expect(made[3]).toBeCloseTo(alone[0], 6);
  });

  it('changes nothing at amount 0', async () => {
    const b: Pixel = [0.25, 0.5, 0.75, 1];
    expect(await runKernel(mode, true, b, [0.7, 0.3, 0.5, 1], 0, 0)).toEqual([...b]);
  });
});

it.each(['hue', 'saturation'] as const)('%s gives grey no colour, though its channels differ by what was rounded off', async (id) => {
  const [colourful, grey]: Pixel[] = [
    [0.2, 0.6, 0.9, 1],
    [0.4, 0.4000001, 0.3999999, 1],
  ];
  const [b, s] = id === 'hue' ? [colourful, grey] : [grey, colourful];
  const [red, green, blue] = await runKernel(modes.find((mode) => mode.id === id) as (typeof modes)[number], true, b as Pixel, s as Pixel, 1, 0);
  expect(Math.max(red as number, green as number, blue as number) - Math.min(red as number, green as number, blue as number)).toBeLessThan(1e-5);
});

it('knows the sixteen of the specification and nine more', () => {
  expect(new Set(modes.map((mode) => mode.id)).size).toBe(25);
});

it.each(modes.map(({ id }) => id))('%s gives numbers for greys, black and white, however they are rounded', async (id) => {
  const greys = [0, 1e-8, 0.1, 1 / 3, 0.7, 1 - 6e-8, 1];
  const pairs = greys.flatMap((b) => greys.map((s) => [b, s] as const));
  for (const [b, s] of pairs) expect(modeOf(id).blend([b, b, b], [s, s, s]).every(Number.isFinite)).toBe(true);
  const memory = newMemory(true);
  const kernels = await fastKernels(memory);
  const floats = new Float32Array(memory.buffer);
  pairs.forEach(([b, s], i) => (floats.set([b, b, b, 1], 4096 + 4 * i), floats.set([s, s, s, 1], 8192 + 4 * i)));
  for (const name of [mixName(id, true), mixName(id, false)]) {
    kernels[name](49152, 16384, 32768, pairs.length, 1, 0, 0);
    expect([...floats.slice(12288, 12288 + 4 * pairs.length)].every(Number.isFinite)).toBe(true);
  }
});
