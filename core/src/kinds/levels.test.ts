import fc from 'fast-check';
import { kindOf, levelPlaces, levelsPlaced, type Five } from '.';
import { paramsSchema } from '../params';

const tone = fc.double({ min: 0, max: 1, noNaN: true });
const five = fc
  .tuple(tone, fc.double({ min: 0.1, max: 10, noNaN: true }), tone, tone, tone)
  .filter(([black, , white]) => white - black > 0.05)
  .map((values): Five => values);
const names = ['black', 'midtone', 'white', 'outBlack', 'outWhite'];

it('moves the one that is placed and leaves the others, within what the kind takes', () => {
  const { params } = kindOf('levels');
  const schema = paramsSchema(Object.fromEntries(names.map((name) => [name, params[name] as (typeof params)[string]])));
  fc.assert(
    fc.property(five, fc.integer({ min: 0, max: 4 }), fc.double({ min: -0.5, max: 1.5, noNaN: true }), (value, which, at) => {
      const next = levelsPlaced(value, which, at);
      next.forEach((v, i) => i !== which && expect(v).toBe(value[i]));
      expect(next[2] - next[0]).toBeGreaterThanOrEqual(1 / 255 - 1e-12);
      expect(schema.safeParse(Object.fromEntries(names.map((name, i) => [name, next[i]]))).success).toBe(true);
    }),
  );
});

it('stands each where it was placed', () => {
  const value: Five = [0.1, 1, 0.9, 0, 1];
  for (const [which, at] of [
    [0, 0.2],
    [1, 0.4],
    [2, 0.8],
    [3, 0.3],
    [4, 0.6],
  ] as const)
    expect(levelPlaces(levelsPlaced(value, which, at))[which]).toBeCloseTo(at, 1);
  // What stands at the midtone becomes the middle: half way from black to white at 1.
  expect(levelPlaces(value)[1]).toBeCloseTo(0.5, 9);
});
