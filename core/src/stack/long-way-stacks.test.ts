import { Chance } from '../../test/chance';
import { group, layer, stackOf } from '../../test/kernels';
import { fault, photos } from '../../test/long-way/fault';
import { modeIds } from '../blend';
import type { Layer, Stack } from './schema';

describe.each(modeIds)('%s', (blend) => {
  it.each(photos)('mixes as it does the long way: %s', async (name, form) => {
    const chance = new Chance(blend.length * 17 + name.length);
    const layout = { width: 76, height: 50, ...form };
    const layers = [
      layer('tone', chance.params('tone')),
      layer('channel-mix', chance.params('channel-mix'), { blend, strength: chance.from(0.3, 1) }),
    ];
    expect(await fault(stackOf(...layers), layout, chance.proof(layout))).toBeUndefined();
  });
});

describe('stacks at random', () => {
  const stacks = (chance: Chance): Stack => {
    const some = (n: number): Layer[] => Array.from({ length: n }, () => chance.layer());
    const inner = some(1 + chance.below(3));
    const grouped = group(inner, {
      strength: chance.from(0, 1),
      blend: chance.of(modeIds),
      gate: chance.gate(),
      reads: chance.of(['below', 'photo']),
    });
    return { ...stackOf(...some(chance.below(3)), grouped, ...some(chance.below(3))), master: chance.of([1, 1, chance.from(0, 1.5)]) };
  };
  it.each(Array.from({ length: 24 }, (_, i) => i + 1))('are what they are the long way, from seed %d', async (seed) => {
    const chance = new Chance(seed);
    const [, form] = chance.of(photos);
    const layout = { width: 60 + chance.below(60), height: 40 + chance.below(40), ...form };
    expect(await fault(stacks(chance), layout, chance.proof(layout))).toBeUndefined();
  });
});
