import { Chance } from '../../test/chance';
import { both, type Both } from '../../test/gpu';
import { extremes, layer, scene, stackOf } from '../../test/kernels';
import { filterShaders, modeShaders, opShaders } from '../../kernels/wgsl';
import { modeIds } from '../blend';
import { filterIds } from '../expressions/filters';
import { ops } from '../expressions/ops';
import { kinds } from '../kinds';
import { emptyMask, newPart } from '../masks/mask';
import { partKinds } from '../masks/parts';
import { EVERY_MASK } from '../stack/maps';
import type { Stack } from '../stack/schema';

const [WIDTH, HEIGHT] = [96, 70];
/** More of them by `npm run gpu`; otherwise others on each day, so that all come in their turn. */
const TURNS = 20;
const day = Math.floor(Date.now() / 86_400_000);
const seeds = process.env['BEXLEN_SEEDS']
  ? Array.from({ length: Number(process.env['BEXLEN_SEEDS']) }, (_, i) => i + 1)
  : [1 + (day % TURNS), 1 + TURNS + (day % TURNS)];
/** By how much both machines differ at most, in levels of eight bits; NaN if a value is no number or there is none for it. */
const apart = ({ cpu, gpu }: Both): number =>
  255 * cpu.reduce((most, v, i) => Math.max(most, Math.abs(v - (gpu[i] ?? NaN))), cpu.length === gpu.length ? 0 : NaN);

async function stacksApart(stacks: readonly Stack[], channels: 3 | 4, depth: 8 | 16): Promise<number[]> {
  const values = scene(WIDTH, HEIGHT, channels);
  const made = await both(
    { width: WIDTH, height: HEIGHT, depth, channels },
    (i) => values[i] as number,
    stacks.map((stack) => ({ stack })),
  );
  return made.map(apart);
}

it('every inner loop, mode and filter has a shader', () => {
  expect(Object.keys(opShaders).sort()).toEqual(Object.keys(ops).sort());
  expect(Object.keys(modeShaders).sort()).toEqual([...modeIds].sort());
  expect([...filterShaders.keys()].sort()).toEqual(filterIds.toSorted());
});

describe('a picture of the graphics processor is that of the processor', () => {
  it.each(kinds.map(({ id }) => id))('for %s', async (id) => {
    const [, most, between] = extremes(id).map((params) => stackOf(layer(id, params)));
    for (const off of await stacksApart([most, between] as Stack[], 3, 8)) expect(off).toBeLessThan(0.5);
    for (const off of await stacksApart([between] as Stack[], 4, 16)) expect(off).toBeLessThan(0.5);
  });

  it('for every mode, opaque or not', async () => {
    const stacks = modeIds.map((blend) => stackOf(layer('toning', {}, { blend, strength: 0.7 }), layer('exposure', { stops: 0.6 }, { blend })));
    const clear = await stacksApart(stacks, 4, 8);
    const opaque = await stacksApart(
      stacks.filter((_, i) => i % 3 === 0),
      3,
      8,
    );
    expect([...clear, ...opaque].map((off) => off < 0.5)).toEqual([...clear, ...opaque].map(() => true));
  });

  it('for every part of a mask', async () => {
    const chance = new Chance(5);
    const stacks = partKinds.map(({ id }) =>
      stackOf(
        layer('exposure', { stops: 1.2 }, { mask: { ...emptyMask, parts: [{ ...newPart(id, 'p'), ...chance.part(id, 'p'), on: true, amount: 1 }] } }),
      ),
    );
    (await stacksApart(stacks, 3, 8)).forEach((off, i) => expect([partKinds[i]?.id, off < 0.5]).toEqual([partKinds[i]?.id, true]));
    const values = scene(WIDTH, HEIGHT, 3);
    const masks = await both({ width: WIDTH, height: HEIGHT, depth: 8, channels: 3 }, (i) => values[i] as number, [
      { stack: stacks[0] as Stack, mask: EVERY_MASK },
    ]);
    masks.map(apart).forEach((off) => expect(off).toBeLessThan(0.5));
  });

  it.each(seeds)('for stacks at random, changed at random, with what was made before kept, from seed %d', async (seed) => {
    const chance = new Chance(seed);
    const { layout, values } = chance.photo();
    let stack = chance.stack();
    const orders = Array.from({ length: 4 }, () => {
      const { area } = chance.order(stack, layout);
      const order = { stack, ...(area && { area }) };
      stack = chance.changed(stack);
      return order;
    });
    const off = (await both(layout, values, orders)).map(apart);
    off.forEach((v) => expect(v).toBeLessThan(1));
  });
});
