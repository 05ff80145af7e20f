import fc from 'fast-check';
import { needed } from './table';
import type { StrokePoint } from '../resources/stroke';

const point = fc.record({
  x: fc.double({ min: -0.5, max: 0.5, noNaN: true }),
  y: fc.double({ min: -0.3, max: 0.3, noNaN: true }),
  pressure: fc.double({ min: 0, max: 1, noNaN: true }),
});
const SIZE = 0.05;

/** How far a place is from a way through points, in shares of the radius, at its pressure. */
function offWay(p: StrokePoint, way: readonly StrokePoint[]): number {
  const offs = way.slice(1).map((b, i) => {
    const a = way[i] as StrokePoint;
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const square = dx * dx + dy * dy;
    const t = square > 0 ? Math.min(1, Math.max(0, ((p.x - a.x) * dx + (p.y - a.y) * dy) / square)) : 0;
    return Math.hypot(p.x - a.x - t * dx, p.y - a.y - t * dy);
  });
  return Math.min(...offs) / SIZE;
}

describe('the points of a stroke that are needed', () => {
  it('leave out only what lies on the way', () => {
    fc.assert(
      fc.property(fc.array(point, { minLength: 2, maxLength: 40 }), (given) => {
        const points = given.map((p, i) => ({ ...p, ms: i }));
        const kept = needed(points, SIZE);
        expect(kept[0]).toBe(points[0]);
        expect(kept.at(-1)).toBe(points.at(-1));
        for (const p of points) expect(offWay(p, kept)).toBeLessThanOrEqual(0.0101);
      }),
    );
  });
  it('are few along a straight line, and stay as they were while a stroke goes on', () => {
    const straight = Array.from({ length: 20 }, (_, i) => ({ x: 0.01 * i, y: 0.005 * i, pressure: 1, ms: i }));
    expect(needed(straight, SIZE)).toHaveLength(2);
    const round = Array.from({ length: 60 }, (_, i) => ({
      x: 0.2 * Math.cos(i / 9),
      y: 0.2 * Math.sin(i / 9),
      pressure: 0.5 + 0.4 * Math.sin(i / 5),
      ms: i,
    }));
    const last = needed(round, SIZE);
    for (let n = 2; n < 60; n++) {
      const then = needed(round.slice(0, n), SIZE);
      expect(last.slice(0, then.length - 1)).toEqual(then.slice(0, -1));
    }
  });
});
