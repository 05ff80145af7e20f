import { Chance } from '../../test/chance';
import { layer, stackOf } from '../../test/kernels';
import { fault, formsAt, photos } from '../../test/long-way/fault';
import { emptyMask } from '../masks/mask';
import { partKinds, type PartId } from '../masks/parts';

const layout = { width: 76, height: 50 };

describe.each(partKinds.map(({ id }, place): [PartId, number] => [id, place]))('a mask of %s', (id, place) => {
  it.each(formsAt(place))('lets through what it does the long way: %s', async (name, pixelFormat) => {
    const chance = new Chance(id.length * 13 + name.length);
    const whole = { ...layout, ...pixelFormat };
    for (let i = 0; i < 3; i++) {
      const mask = {
        ...emptyMask,
        parts: [{ ...chance.part(id, 'p'), on: true }],
        ...(i === 1 && { soften: 0.02, density: 0.7 }),
        inverted: i === 2,
      };
      const stack = stackOf(layer('tone', { contrast: 0.6 }), layer('exposure', { stops: 1.4 }, { mask }));
      expect(await fault(stack, whole, chance.proof(whole))).toBeUndefined();
    }
  });
});

describe('layers that read only what their masks let through', () => {
  it.each(photos)('are what they are the long way: %s', async (name, pixelFormat) => {
    const chance = new Chance(name.length);
    const whole = { ...layout, ...pixelFormat };
    for (const [id, params] of [
      ['blur', { radius: 0.03 }],
      ['local-contrast', { fine: 0.8 }],
      ['infrared', { glow: 0.6, grain: 0 }],
    ] as const) {
      const mask = { ...emptyMask, parts: [chance.part('oval', 'p'), chance.part('tones', 'q')] };
      expect(await fault(stackOf(layer(id, params, { mask, masked: true })), whole, chance.proof(whole))).toBeUndefined();
    }
  });
});
