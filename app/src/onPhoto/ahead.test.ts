import fc from 'fast-check';
import { meantBy, ovalTo } from './ahead';

const place = fc.record({ x: fc.double({ min: -0.5, max: 0.5, noNaN: true }), y: fc.double({ min: -0.5, max: 0.5, noNaN: true }) });
const line = (from: { x: number; y: number }, to: { x: number; y: number }, steps = 12) =>
  Array.from({ length: steps + 1 }, (_, i) => ({ x: from.x + ((to.x - from.x) * i) / steps, y: from.y + ((to.y - from.y) * i) / steps }));

it('takes a straight line for an oval, whichever way it goes', () => {
  fc.assert(fc.property(place, place, (a, b) => void expect(meantBy(line(a, b))).toBe('oval')));
});

it('takes what goes to and fro for a stroke', () => {
  fc.assert(
    fc.property(place, fc.double({ min: 0.05, max: 0.4, noNaN: true }), ({ x, y }, reach) => {
      const ends = [0, 1, 2, 3].map((i) => ({ x: x + (i % 2) * reach, y: y + i * reach * 0.1 }));
      expect(meantBy(ends.slice(1).flatMap((to, i) => line(ends[i] as { x: number; y: number }, to)))).toBe('stroke');
    }),
  );
});

it('makes an oval about the first place that reaches the last one, and never a slit', () => {
  fc.assert(
    fc.property(place, place, (from, to) => {
      const { x, y, width = 0, height = 0 } = ovalTo(from, to);
      expect([x, y]).toEqual([from.x, from.y]);
      expect(width).toBeGreaterThanOrEqual(Math.abs(to.x - from.x));
      expect(height).toBeGreaterThanOrEqual(Math.abs(to.y - from.y));
      expect(Math.min(width, height)).toBeGreaterThanOrEqual(0.44 * Math.max(width, height));
      expect(Math.min(width, height)).toBeGreaterThan(0);
    }),
  );
});
