import { fastKernels, sequence, slowKernels } from '../../test/kernels';
import { newMemory } from '../pixels/kernels';
import { opOf, ops, type OpId } from './ops';

const [A, B, TO, LINE, TABLE] = [1 << 12, 1 << 13, 1 << 14, 1 << 15, 1 << 17];
const N = 16;

/** What a loop gives for colours at random, with alphas that are told. */
async function given(id: OpId, kernels: typeof fastKernels, alphas: (i: number) => number): Promise<number[][]> {
  const memory = newMemory(true);
  memory.grow(32);
  const floats = new Float32Array(memory.buffer);
  const next = sequence(5);
  for (let i = 0; i < N; i++) for (const at of [A, B]) floats.set([next(), next(), next(), at === A ? alphas(i) : alphas(i + 7)], at / 4 + 4 * i);
  for (let i = 0; i < 4 * 8192; i++) floats[TABLE / 4 + i] = 0.5 + 0.4 * Math.sin(i / 9);
  opOf(id).bind(await kernels(memory), [0.7, 0.4, 0.3, 0.2, 5, 1, 2], TABLE, LINE)(TO, A, B, N, 3, 4);
  return Array.from({ length: N }, (_, i) => [...floats.slice(TO / 4 + 4 * i, TO / 4 + 4 * i + 4)]);
}

describe.each(Object.keys(ops) as OpId[])('the loop %s', (id) => {
  const { gives, takes, premultiplied } = opOf(id);
  it.each([
    ['fast', fastKernels],
    ['readable', slowKernels],
  ])('keeps what it says it keeps: the %s one', async (_, kernels) => {
    const ones = await given(id, kernels, () => 1);
    const some = await given(id, kernels, (i) => (1 + (i % 5)) / 8);
    // What gives colours leaves alpha as it is: else the fourth number would be lost where there is none.
    if (gives === 'colour' && takes.some((content) => content === 'colour'))
      expect(some.map(([, , , a]) => a)).toEqual(Array.from({ length: N }, (__, i) => (1 + (i % 5)) / 8));
    // What takes colours does not look at alpha.
    if (takes.every((content) => content === 'colour') && !premultiplied)
      expect(some.map((v) => v.slice(0, 3))).toEqual(ones.map((v) => v.slice(0, 3)));
  });
});
