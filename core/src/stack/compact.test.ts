import { Chance } from '../../test/chance';
import { group, layer, PAINTED, stackOf } from '../../test/kernels';
import { emptyMask, newPart } from '../masks/mask';
import { compact } from './compact';
import { readStack } from './read';

describe('a compact stack', () => {
  it.each(Array.from({ length: 30 }, (_, i) => i + 1))('is read as what it was made of, from seed %d', (seed) => {
    const chance = new Chance(seed);
    const stack = stackOf(...chance.stack().layers, group([chance.layer(), chance.layer()], { mask: chance.mask(1), gate: chance.gate() }));
    const whole = readStack(stack);
    expect(readStack(JSON.parse(JSON.stringify(compact(whole))))).toEqual(whole);
  });
  it('of six layers, one of them painted, takes less than 2 KB', () => {
    const mask = { ...emptyMask, parts: [{ ...newPart('brush', 'b'), params: { strokes: PAINTED } }] };
    const layers = (['tone', 'saturation', 'curves', 'local-contrast', 'grain'] as const).map((kind) => layer(kind));
    const stack = readStack(stackOf(layer('exposure', { stops: -1.2 }, { mask }), ...layers));
    expect(JSON.stringify(compact(stack)).length).toBeLessThan(2000);
  });
});
