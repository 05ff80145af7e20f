import fc from 'fast-check';
import { columnWidth, laidOut, MARGIN, pageSize, type Paper } from '@bexlen/render/make/paper';

const side = fc.integer({ min: 40, max: 6000 });
const paper: fc.Arbitrary<Paper> = fc.record({
  page: fc.constantFrom('a4', 'letter'),
  upright: fc.boolean(),
  columns: fc.integer({ min: 1, max: 8 }),
});
const sizes = fc.array(fc.record({ width: side, height: side }), { minLength: 1, maxLength: 40 });

it('keeps every picture whole, in its proportions, on its page and beside nothing that covers it', () => {
  fc.assert(
    fc.property(paper, sizes, (sheet, pictures) => {
      const [wide, high] = pageSize(sheet);
      const spots = laidOut(sheet, pictures);
      expect(spots).toHaveLength(pictures.length);
      for (const [i, { page, x, y, width, height, cut }] of spots.entries()) {
        const { width: w, height: h } = pictures[i] as { width: number; height: number };
        expect(width / height / (w / h)).toBeCloseTo(1, 6);
        expect(x).toBeGreaterThanOrEqual(MARGIN - 1e-6);
        expect(x + width).toBeLessThanOrEqual(wide - MARGIN + 1e-6);
        expect(y).toBeGreaterThan(MARGIN);
        expect(y + height).toBeLessThan(high - MARGIN);
        expect([cut.left <= x, cut.top <= y, cut.right >= x + width, cut.bottom > y + height]).toEqual([true, true, true, true]);
        const next = spots[i + 1];
        if (!next) continue;
        // The next one stands to the right, in the next row, or on the next page.
        if (next.page === page) expect(next.cut.left >= cut.right - 1e-6 || next.cut.top >= cut.bottom - 1e-6).toBe(true);
        else expect(next.page).toBe(page + 1);
      }
    }),
  );
});

it('makes rows no higher than their highest picture, so that what lies across leaves no empty halves', () => {
  const sheet: Paper = { page: 'a4', upright: true, columns: 2 };
  const spots = laidOut(
    sheet,
    Array.from({ length: 6 }, () => ({ width: 300, height: 200 })),
  );
  expect(spots.every(({ page }) => page === 0)).toBe(true);
  expect(spots[0]?.width).toBeCloseTo(columnWidth(sheet), 6);
  expect((spots[2]?.y ?? 0) - (spots[0]?.y ?? 0)).toBeLessThan((spots[0]?.height ?? 0) + 50);
  // A very long one is no higher than its column is wide: upright, it is as large as across.
  const [upright] = laidOut(sheet, [{ width: 100, height: 900 }]);
  expect(upright?.height).toBeCloseTo(columnWidth(sheet), 6);
});
