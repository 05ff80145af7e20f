import fc from 'fast-check';
import { atRatio, dragged, levelled, mirrored, quarterTurn, shareRatio } from './crop';
import { asItCame, geometrySchema, toPhoto, type Geometry } from './geometry';
import { mapped } from './matrix';

const photo = { width: 600, height: 400 };
const crops = fc
  .record({
    x: fc.double({ min: 0, max: 0.7, noNaN: true }),
    y: fc.double({ min: 0, max: 0.7, noNaN: true }),
    w: fc.double({ min: 0.1, max: 1, noNaN: true }),
    h: fc.double({ min: 0.1, max: 1, noNaN: true }),
  })
  .map(({ x, y, w, h }) => ({ x, y, width: Math.min(w, 1 - x), height: Math.min(h, 1 - y) }));
const shift = fc.double({ min: -1.5, max: 1.5, noNaN: true });
const sides = fc.constantFrom(-1, 0, 1) as fc.Arbitrary<-1 | 0 | 1>;

describe('a crop', () => {
  it('stays inside the photo and keeps its ratio, however it is dragged', () => {
    fc.assert(
      fc.property(crops, sides, sides, shift, shift, fc.constantFrom(undefined, 0.5, 1, 1.6), (crop, x, y, dx, dy, ratio) => {
        const start = atRatio(crop, ratio);
        const after = dragged(start, { x, y }, dx, dy, ratio);
        expect(after.x).toBeGreaterThanOrEqual(-1e-9);
        expect(after.y).toBeGreaterThanOrEqual(-1e-9);
        expect(after.x + after.width).toBeLessThanOrEqual(1 + 1e-9);
        expect(after.y + after.height).toBeLessThanOrEqual(1 + 1e-9);
        if (ratio !== undefined) expect(after.width / after.height).toBeCloseTo(ratio, 6);
      }),
    );
  });

  it('leaves the corner across from the grip where it is', () => {
    const crop = { x: 0.2, y: 0.2, width: 0.5, height: 0.5 };
    const after = dragged(crop, { x: -1, y: -1 }, 0.1, 0.05, undefined);
    expect([after.x + after.width, after.y + after.height]).toEqual([0.7, 0.7]);
    expect(after.width).toBeCloseTo(0.4, 9);
  });

  it('of 3 : 2 is square in shares of a 3 : 2 photo, and stands up on request', () => {
    expect(shareRatio('1.5', photo, false)).toBeCloseTo(1, 9);
    expect(shareRatio('1.5', photo, true)).toBeCloseTo(4 / 9, 9);
  });
});

const seenAt = (geometry: Geometry, u: number, v: number): [number, number] => mapped(toPhoto(geometry, photo), u, v);

describe('turning', () => {
  const bent: Geometry = { ...asItCame, angleDeg: 4, upDown: 0.2, leftRight: -0.1, crop: { x: 0.1, y: 0.3, width: 0.4, height: 0.5 } };
  it.each([false, true])('keeps the same part of the photo in sight, mirrored %s', (swapped) => {
    const start = { ...bent, mirrored: swapped };
    const once = quarterTurn(start, 1);
    expect(geometrySchema.safeParse(once).success).toBe(true);
    // The upper left corner has gone to the upper right.
    seenAt(once, 1, 0).forEach((value, i) => expect(value).toBeCloseTo(seenAt(start, 0, 0)[i] as number, 0));
    const four = [1, 1, 1].reduce((geometry) => quarterTurn(geometry, 1), once);
    seenAt(four, 0.3, 0.8).forEach((value, i) => expect(value).toBeCloseTo(seenAt(start, 0.3, 0.8)[i] as number, 6));
    const back = quarterTurn(once, -1);
    seenAt(back, 0.3, 0.8).forEach((value, i) => expect(value).toBeCloseTo(seenAt(start, 0.3, 0.8)[i] as number, 6));
  });

  it('mirrors what is seen', () => {
    seenAt(mirrored(bent), 0.2, 0.6).forEach((value, i) => expect(value).toBeCloseTo(seenAt(bent, 0.8, 0.6)[i] as number, 6));
  });
});

it('a line that was drawn comes to lie level or plumb', () => {
  expect(levelled(asItCame, 100, 5)).toBeCloseTo(-2.9, 6);
  expect(levelled(asItCame, 5, -100)).toBeCloseTo(-2.9, 6);
  expect(levelled({ ...asItCame, angleDeg: 3 }, -100, 0)).toBe(3);
});
