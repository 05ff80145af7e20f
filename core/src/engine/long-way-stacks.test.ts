import { Chance } from '../../test/chance';
import { fill } from '../../test/engine';
import { fastKernels, group, layer, resources, stackOf } from '../../test/kernels';
import { fault, formsAt, photos } from '../../test/long-way/fault';
import { modeIds, type ModeId } from '../blend';
import { newMemory } from '../pixels/kernels';
import { Engine } from './engine';
import type { Layer, Stack } from '../stack/schema';

describe.each(modeIds.map((id, place): [ModeId, number] => [id, place]))('%s', (blend, place) => {
  it.each(formsAt(place))('mixes as it does the long way: %s', async (name, pixelFormat) => {
    const chance = new Chance(blend.length * 17 + name.length);
    const layout = { width: 76, height: 50, ...pixelFormat };
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
  it.each([16, 17, 18, 19, 21, 22, 23])('are what they are the long way, from seed %d', async (seed) => {
    const chance = new Chance(seed);
    const [, pixelFormat] = chance.of(photos);
    const layout = { width: 60 + chance.below(60), height: 40 + chance.below(40), ...pixelFormat };
    expect(await fault(stacks(chance), layout, chance.proof(layout))).toBeUndefined();
  });
});

describe('deep stacks with many blurs', () => {
  const deep = (n: number): Stack =>
    stackOf(
      ...Array.from({ length: n }, (_, i) => {
        if (i % 3 === 0) return layer('infrared', { glow: 0.4, grain: 0 }, { strength: 0.3 });
        return i % 3 === 1
          ? layer('local-contrast', { fine: 0.5, medium: -0.3 }, { strength: 0.5 })
          : layer('blur', { radius: 0.01 }, { strength: 0.4, blend: 'soft-light' });
      }),
    );
  it.each(formsAt(2))('are what they are the long way: %s', async (_, pixelFormat) => {
    const layout = { width: 90, height: 60, ...pixelFormat };
    expect(await fault(deep(8), layout, new Chance(3).proof(layout))).toBeUndefined();
  });

  it('tell of each band of rows once, though images are written down on the way', async () => {
    const layout = { width: 400, height: 600, depth: 8, channels: 3 } as const;
    const memory = newMemory(true);
    const engine = new Engine(memory, await fastKernels(memory), 1, undefined, undefined, undefined, resources);
    fill(engine, layout, new Chance(4).proof(layout));
    const told: number[] = [];
    engine.render({ stack: deep(9), format: 'rgb8', spend: true, band: 256, bandDone: (band) => told.push(band) });
    expect([...told].sort()).toEqual([0, 1, 2]);
  });

  it('take no more memory than a few images, however deep they are', async () => {
    const layout = { width: 320, height: 200, depth: 8, channels: 3 } as const;
    const bytes = async (n: number): Promise<number> => {
      const memory = newMemory(true);
      const engine = new Engine(memory, await fastKernels(memory), 1, undefined, undefined, undefined, resources);
      fill(engine, layout, new Chance(4).proof(layout));
      engine.render({ stack: deep(n), format: 'rgb8', spend: true });
      return memory.buffer.byteLength;
    };
    const [few, many] = [await bytes(12), await bytes(96)];
    expect(many).toBeLessThan(few + 20e6);
  });
});

describe('a raw file', () => {
  it.each([
    ['as shot', undefined],
    ['brighter and warmer, highlights cut off', { light: 1.2, warmth: 0.4, tint: -0.2, recovery: 0 }],
    ['darker and cooler, highlights recovered', { light: -1.5, warmth: -0.6, tint: 0.3, recovery: 1 }],
  ] as const)('is developed before the first layer as it is the long way: %s', async (name, development) => {
    const chance = new Chance(name.length);
    const layout = { width: 76, height: 50, depth: 16, channels: 3, gamut: 'display-p3', headroom: 2 } as const;
    const layers = [layer('tone', chance.params('tone')), layer('glow', chance.params('glow'), { reads: 'photo', strength: 0.6 })];
    const stack = { ...stackOf(...layers), master: 0.7, ...(development && { development }) };
    expect(await fault(stack, layout, chance.proof(layout))).toBeUndefined();
  });
});
