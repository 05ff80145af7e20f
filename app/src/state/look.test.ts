import { shareOf, about, fit, zoomed } from './look';
import { rowsOf } from '../shelf/rows';

describe('looking at a photo', () => {
  it('keeps the point under the fingers where it is', () => {
    const look = about({ scale: 2, x: 30, y: -10 }, 1.5, 40, 20);
    // The photo's point under (40, 20) before: (40 - 30) / 2 = 5, (20 + 10) / 2 = 15; after: the same.
    expect([(40 - look.x) / look.scale, (20 - look.y) / look.scale]).toEqual([5, 15]);
  });

  it('does not let the photo leave its area, nor get smaller than it', () => {
    expect(zoomed({ scale: 0.3, x: 50, y: 50 }, { width: 390, height: 300 }, { width: 390, height: 260 })).toEqual(fit);
    expect(zoomed({ scale: 2, x: 900, y: -900 }, { width: 390, height: 300 }, { width: 390, height: 260 })).toEqual({ scale: 2, x: 195, y: -110 });
  });
});

describe('the contact sheet', () => {
  const photos = [
    { width: 3, height: 2 },
    { width: 2, height: 3 },
    { width: 1, height: 1 },
    { width: 16, height: 9 },
    { width: 3, height: 2 },
  ];
  it('fills every row but the last, each of one height, in the photos’ own proportions', () => {
    const rows = rowsOf(photos, 366, 120);
    expect(rows.flat().map(({ it: shown }) => shown)).toEqual(photos);
    for (const row of rows) {
      expect(new Set(row.map(({ height }) => height)).size).toBe(1);
      for (const { it: shown, width, height } of row) expect(width / height).toBeCloseTo(shown.width / shown.height, 9);
    }
    for (const row of rows.slice(0, -1)) expect(row.reduce((sum, { width }) => sum + width, 8 * (row.length - 1))).toBeCloseTo(366, 6);
  });
});

it('a place of the area is a place of the photo, zoomed and moved or not', () => {
  const [area, picture] = [
    { width: 400, height: 300 },
    { width: 400, height: 200 },
  ];
  expect(shareOf({ x: 200, y: 150 }, { scale: 1, x: 0, y: 0 }, area, picture)).toEqual({ u: 0.5, v: 0.5 });
  expect(shareOf({ x: 0, y: 50 }, { scale: 1, x: 0, y: 0 }, area, picture)).toEqual({ u: 0, v: 0 });
  expect(shareOf({ x: 300, y: 150 }, { scale: 2, x: 100, y: 0 }, area, picture)).toEqual({ u: 0.5, v: 0.5 });
});
