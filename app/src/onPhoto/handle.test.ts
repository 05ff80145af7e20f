import fc from 'fast-check';
import { focusShapeOf, focusShapes, kindOf, kinds, partKindOf, partKinds, type Handle } from '@bexlen/core';
import { apart, dragged, drawn, taken } from './handle';
import type { Numbers } from './shapes';

const numbersOf = (params: Readonly<Record<string, { readonly type: string; readonly at: unknown }>>): Numbers =>
  Object.fromEntries(Object.entries(params).flatMap(([name, { type, at }]) => (type === 'number' ? [[name, at as number]] : [])));
const all: [string, Handle, Numbers][] = [
  ...partKinds.map(({ id }) => partKindOf(id)),
  ...kinds.map(({ id }) => kindOf(id)),
  ...focusShapes.map(({ id }) => focusShapeOf(id)),
].flatMap(({ id, handle, params }): [string, Handle, Numbers][] => (handle && handle.shape !== 'spot' ? [[id, handle, numbersOf(params)]] : []));

describe.each(all)('the handle of %s', (_, handle, values) => {
  it('names only params that are there', () => {
    for (const [key, name] of Object.entries(handle))
      if (key !== 'shape' && key !== 'ends' && typeof name === 'string') expect(values[name]).toBeDefined();
  });
  it('takes each grip where it is drawn, and a drag brings it to the finger', () => {
    for (const grip of drawn(handle, values).grips) {
      expect(taken(handle, values, grip.at, 0.0001)).toEqual({ grip: grip.id, off: { x: 0, y: 0 } });
      const to = { x: grip.at.x * 1.2 + 0.01, y: grip.at.y * 1.2 + 0.01 };
      const now = { ...values, ...dragged(handle, grip.id, values, grip.at, to) };
      const there = drawn(handle, now).grips.find(({ id }) => id === grip.id);
      expect(Math.hypot((there?.at.x ?? 9) - to.x, (there?.at.y ?? 9) - to.y)).toBeLessThan(0.12);
    }
  });
  it('moves by as much as the finger does, and turns about its middle', () => {
    fc.assert(
      fc.property(fc.double({ min: -0.4, max: 0.4, noNaN: true }), fc.double({ min: -0.4, max: 0.4, noNaN: true }), (dx, dy) => {
        const moved = { ...values, ...dragged(handle, 'move', values, { x: 0.1, y: 0.1 }, { x: 0.1 + dx, y: 0.1 + dy }) };
        expect((moved['x'] as number) - (values['x'] as number)).toBeCloseTo(dx, 9);
        expect((moved['y'] as number) - (values['y'] as number)).toBeCloseTo(dy, 9);
      }),
    );
    // A place alone has no way to turn.
    if (handle.shape === 'point') return;
    const { x = 0, y = 0 } = values;
    const turned = dragged(handle, 'turn', values, { x: x + 3, y }, { x, y: y + 3 });
    const by = ((turned['angle'] as number) - (values['angle'] as number) + 360) % 360;
    expect(by).toBeCloseTo(90, 6);
  });
  it('turns from anywhere outside, and keeps finite', () => {
    expect(taken(handle, values, { x: 40, y: 40 }, 0.001).grip).toBe(handle.shape === 'point' ? 'move' : 'turn');
    for (const grip of [...drawn(handle, values).grips.map(({ id }) => id), 'both', 'turn', 'inner'])
      for (const value of Object.values(dragged(handle, grip, values, { x: 0.2, y: 0.1 }, { x: values['x'] as number, y: values['y'] as number })))
        expect(Number.isFinite(value)).toBe(true);
  });
  it('keeps its grips 44 pixels from each other, however small it is, and each where it is shown does what it does at its place', () => {
    const lengths = ['width', 'height', 'inner', 'half', 'before', 'after', 'length', 'size', 'right', 'left', 'below', 'above'];
    const names = Object.entries(handle).flatMap(([key, name]) => (lengths.includes(key) && typeof name === 'string' ? [name] : []));
    fc.assert(
      fc.property(fc.double({ min: 0.001, max: 1, noNaN: true }), (share) => {
        const small = {
          ...values,
          ...Object.fromEntries([...names, 'size'].flatMap((name) => (name in values ? [[name, share * (values[name] ?? 0)]] : []))),
        };
        const pixel = 0.002;
        const grips = apart(drawn(handle, small).grips, pixel);
        for (const [i, { id, at, shown }] of grips.entries()) {
          for (const other of grips.slice(0, i))
            expect(Math.hypot(shown.x - other.shown.x, shown.y - other.shown.y)).toBeGreaterThanOrEqual(44 * pixel);
          const { grip, off } = taken(handle, small, shown, pixel);
          expect(grip).toBe(id);
          expect([shown.x - off.x, shown.y - off.y]).toEqual([expect.closeTo(at.x, 9), expect.closeTo(at.y, 9)]);
        }
      }),
      { numRuns: 30 },
    );
  });
});
