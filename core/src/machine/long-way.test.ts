import { Chance } from '../../test/chance';
import { layer, stackOf } from '../../test/kernels';
import { fault, photos } from '../../test/long-way/fault';
import { modeIds } from '../blend';
import { kinds, type KindId } from '../kinds';

/** Kinds of so many blurs or so much arithmetic that one stack must do for each form of photo. */
const SLOW: ReadonlySet<string> = new Set(['band-focus', 'oval-focus', 'pin-focus', 'motion-blur', 'brushwork']);

describe.each(kinds.map(({ id }) => id))('%s', (id: KindId) => {
  it.each(photos)('is what it is the long way: %s', async (name, pixelFormat) => {
    const chance = new Chance(id.length * 31 + name.length);
    const layout = { width: 76, height: 50, ...pixelFormat };
    const values = chance.proof(layout);
    for (let i = 0; i < (SLOW.has(id) ? 1 : 2); i++) {
      const rest = i === 0 && !SLOW.has(id) ? {} : { blend: chance.of(modeIds), strength: chance.from(0.2, 1), gate: chance.gate() };
      expect(await fault(stackOf(layer(id, chance.params(id), rest)), layout, values)).toBeUndefined();
    }
  });
});
