import fc from 'fast-check';
import { focusShapeOf, partKindOf, type Handle } from '@bexlen/core';
import { drawn } from './handle';
import type { Numbers } from './shapes';
import { tickLength, ticksOf, type Tick } from './scale';

const numbersOf = (params: Readonly<Record<string, { readonly type: string; readonly at: unknown }>>): Numbers =>
  Object.fromEntries(Object.entries(params).flatMap(([name, { type, at }]) => (type === 'number' ? [[name, at as number]] : [])));
const shapeOf = ({ handle, params }: { handle?: Handle; params: Parameters<typeof numbersOf>[0] }): [Handle, Numbers] => [
  handle as Handle,
  numbersOf(params),
];
/** Grips that stand where a shape is whole, and those that stand at its end. */
const WHOLE = ['half', 'inner'];
const END = ['before', 'after', 'end', 'width', 'height'];
const sight = { middle: { x: 0, y: 0 }, reach: 0.7, pixel: 1 / 600 };
const nearest = (ticks: readonly Tick[], share: number, { x, y }: { x: number; y: number }): number =>
  Math.min(...ticks.filter((tick) => tick.share === share).map(({ at }) => Math.hypot(at.x - x, at.y - y)));

const shapes = {
  oval: shapeOf(partKindOf('oval')),
  band: shapeOf(partKindOf('band')),
  ramp: shapeOf(partKindOf('ramp')),
  strip: shapeOf(focusShapeOf('band')),
};

describe.each(Object.entries(shapes))('the scale of %s', (_, [handle, params]) => {
  const values = fc.tuple(fc.double({ min: -0.3, max: 0.3, noNaN: true }), fc.double({ min: -180, max: 180, noNaN: true }));
  it('begins where the shape is whole and ends where it does', () => {
    fc.assert(
      fc.property(values, ([x, angle]) => {
        const now = { ...params, x, angle };
        const ticks = ticksOf(handle, now, sight);
        for (const { id, at } of drawn(handle, now).grips) {
          // Half of what lies between two marks, and a little for a row that bends.
          if (WHOLE.includes(id)) expect(nearest(ticks, 0, at)).toBeLessThan(0.03);
          if (END.includes(id)) expect(nearest(ticks, 1, at)).toBeLessThan(0.03);
        }
      }),
      { numRuns: 40 },
    );
  });
  it('has marks in sight only, and never more than can be drawn', () => {
    fc.assert(
      fc.property(values, fc.double({ min: 1, max: 200, noNaN: true }), ([x, angle], zoom) => {
        const near = { middle: { x: x / 2, y: 0.1 }, reach: sight.reach / zoom, pixel: sight.pixel / zoom };
        const ticks = ticksOf(handle, { ...params, x, angle }, near);
        expect(ticks.length).toBeLessThanOrEqual(1300);
        // Said of all at once: half a million expectations would take half a minute.
        expect(ticks.filter(({ way, share }) => !(Math.abs(Math.hypot(way.x, way.y) - 1) < 5e-10 && share >= 0 && share <= 1))).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });
});

it('grows from a dot to a mark that is seen', () => {
  const lengths = [0, 0.25, 0.5, 0.75, 1].map(tickLength);
  expect(lengths[0]).toBeLessThan(2);
  expect(lengths).toEqual([...lengths].sort((a, b) => a - b));
  expect(lengths[4]).toBeGreaterThan(10);
});

it('is none for a place alone', () => {
  const [handle, values] = shapeOf(focusShapeOf('pin'));
  expect(ticksOf(handle, values, sight)).toEqual([]);
});
