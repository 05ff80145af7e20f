import { Chance } from '../../test/chance';
import { layer, stackOf } from '../../test/kernels';
import { fault, formsAt } from '../../test/long-way/fault';
import { modeIds } from '../blend';
import { kinds, revisionOf, type KindId } from '../kinds';

/** Kinds of so many blurs or so much arithmetic that one stack must do for each form of photo. */
const SLOW: ReadonlySet<string> = new Set(['band-focus', 'oval-focus', 'pin-focus', 'motion-blur', 'brushwork']);

/** Every kind by its newest work, and by each earlier one that layers still have. */
const works = kinds.flatMap((kind) => Array.from({ length: revisionOf(kind) }, (_, i): [KindId, number] => [kind.id, i + 1]));

describe.each(works.map(([id, revision], place) => [id, revision, place] as const))('%s, revision %d', (id, revision, place) => {
  const forms = formsAt(place);
  it.each(forms)('is what it is the long way: %s', async (name, pixelFormat) => {
    const chance = new Chance(id.length * 31 + name.length);
    const layout = { width: 76, height: 50, ...pixelFormat };
    const values = chance.proof(layout);
    const rounds = SLOW.has(id) ? 1 : 2;
    for (let i = 0; i < rounds; i++) {
      // Once in the primaries of Display P3.
      const gamut = name === forms[1]?.[0] && i === rounds - 1 ? ({ gamut: 'display-p3' } as const) : {};
      const rest =
        i === 0 && !SLOW.has(id) ? { revision } : { revision, blend: chance.of(modeIds), strength: chance.from(0.2, 1), gate: chance.gate() };
      expect(await fault(stackOf(layer(id, chance.params(id), rest)), { ...layout, ...gamut }, values)).toBeUndefined();
    }
  });
});
