import { expect, test } from '@playwright/test';
import { fingers } from './hands';
import { House } from './house';
import { button, importAndOpen } from './treatment';

let house: House;
test.beforeEach(async () => {
  house = await House.open();
});
test.afterEach(() => house.close());

test('a finished file is handed to the phone’s own sheet, whole and under its name @phone', async ({ page }) => {
  // Chromium has no such sheet here: what would be handed to it is looked at.
  await page.addInitScript(() => {
    const shared: unknown[] = [];
    Object.assign(globalThis, { shared });
    Object.assign(navigator, {
      canShare: () => true,
      share: ({ files }: { files: File[] }) => {
        shared.push(...files.map(({ name, type, size }) => ({ name, type, size })));
        return Promise.resolve();
      },
    });
  });
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'dunes');
  await hands.tap(button(page, 'Export'));
  await hands.tap(button(page, 'Make the file'));
  await hands.tap(button(page, 'Share'));
  const { exports } = await house.get<{ exports: { bytes: number }[] }>('/exports');
  await expect
    .poll(() => page.evaluate(() => (globalThis as unknown as { shared: unknown[] }).shared))
    .toContainEqual({ name: 'dunes - Version 1.jpg', type: 'image/jpeg', size: exports[0]?.bytes });
  // It can still be saved.
  await expect(button(page, 'Download dunes - Version 1.jpg')).toBeVisible();
});
