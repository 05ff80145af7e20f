import type { KindLayer } from '@bexlen/core';
import { demoWhole, House } from './house';
import { fingers, mouse, shownPixels } from './hands';
import { expect, test } from './story';
import { button, exportAndCompare, importAndOpen, radio, slider, stackNow, stackNowWhenKept } from './treatment';
import { en } from './words';

/** What comes before the first layer, what is seen at full size, and files that layers work with. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

test('a photo straightened along its horizon, cropped, turned back by undo, and made as it was seen @phone', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'tower-path');
  const asItCame = await shownPixels(page);
  await hands.tap(button(page, en.desk.crop));
  const before = hands.count();
  await hands.tap(button(page, en.bench.drawALevelLine));
  await hands.drag(page.getByLabel(/^Draw a line along what should be level/), 220, 12, { x: 0.2, y: 0.6 });
  await expect(button(page, en.bench.drawALevelLine)).toBeVisible();
  const { geometry: straight } = await stackNowWhenKept(house, page);
  expect(straight.angleDeg).toBeCloseTo(-3.1, 1);
  const crop = slider(page, /^Crop\./);
  await hands.drag(crop, -90, -60, { x: 0.99, y: 0.99 });
  await hands.tap(button(page, /^Mirror$/));
  await expect(button(page, /^Mirror$/)).toHaveAttribute('aria-pressed', 'true');
  console.log(`gestures of a straightened crop: ${hands.count() - before}`);
  const { geometry } = await stackNowWhenKept(house, page);
  expect(geometry).toMatchObject({ mirrored: true, angleDeg: 3.1 });
  expect(geometry.crop.width).toBeLessThan(0.85);
  expect(geometry.crop.width + geometry.crop.x).toBeCloseTo(1, 6);
  await hands.tap(button(page, /^Turn right/));
  await hands.tap(button(page, /^Undo/));
  await hands.tap(button(page, en.bench.done));
  await hands.tap(button(page, /^Add Exposure/));
  await hands.drag(slider(page, 'Stops of Exposure'), 30, 0);
  await expect.poll(() => shownPixels(page)).not.toEqual(asItCame);
  await page.reload();
  await expect(page.getByRole('img', { name: 'tower-path, as it is now' })).toBeVisible();
  expect((await stackNow(house)).geometry).toEqual(geometry);
  await exportAndCompare(house, page, hands, 'tower-path');
});

test('close up, the photo’s own pixels are seen, with the look on them @wide', async ({ page }) => {
  const hands = mouse(page);
  await importAndOpen(house, page, hands, 'workbench', demoWhole);
  await hands.tap(button(page, en.desk.chooseAFirstLayer));
  await hands.tap(button(page, /^Add Mono mix/));
  await hands.tap(button(page, en.bench.zoomIn));
  const canvases = page.locator('canvas[width]');
  const sizes = (): Promise<number[]> => canvases.evaluateAll((all) => all.map((it) => (it as HTMLCanvasElement).width));
  const photo = page.getByRole('img', { name: 'workbench, as it is now' });
  await page.mouse.move(400, 250);
  for (let i = 0; i < 4; i++) await page.mouse.wheel(0, -300);
  // A second picture lies over the first: as many pixels as are in sight.
  const detail = photo.locator('xpath=following-sibling::*//canvas').first();
  await expect(detail).toBeVisible();
  expect((await sizes()).length).toBeGreaterThan(1);
  const grey = await detail.evaluate((node) => {
    const canvas = node as HTMLCanvasElement;
    const { data } = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, canvas.width, canvas.height);
    let [most, bright] = [0, 0];
    for (let i = 0; i < data.length; i += 404) {
      const [r = 0, g = 0, b = 0] = [data[i - (i % 4)], data[i - (i % 4) + 1], data[i - (i % 4) + 2]];
      most = Math.max(most, Math.abs(r - g), Math.abs(g - b));
      bright += r > 20 ? 1 : 0;
    }
    return { most, bright };
  });
  // Dither may part neighbouring channels by a level.
  expect(grey.most).toBeLessThanOrEqual(1);
  expect(grey.bright).toBeGreaterThan(10);
  await page.keyboard.down('o');
  await expect(page.getByRole('img', { name: 'workbench, original' })).toBeVisible();
  await page.keyboard.up('o');
});

const warm = `TITLE "warm"\nLUT_3D_SIZE 2\n${['0 0 0', '1 0 0', '0 1 0', '1 1 0', '0 0 0.7', '1 0 0.7', '0 1 0.7', '1 0.96 0.7'].join('\n')}\n`;
const asFile = (name: string, text: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });

test('a colour table from a file; a broken one is refused and loses nothing @phone', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'dunes');
  await hands.tap(button(page, /^Add Cube/));
  const before = await shownPixels(page);
  const field = page.getByLabel('Table of Cube');
  await field.setInputFiles(asFile('broken.cube', 'LUT_3D_SIZE 2\n0 0 0\n'));
  await expect(page.getByRole('alert').filter({ hasText: 'should have 8 entries' })).toBeVisible();
  await field.setInputFiles(asFile('warm.cube', warm));
  await expect(page.getByText('warm.cube', { exact: true })).toBeVisible();
  await expect.poll(() => shownPixels(page)).not.toEqual(before);
  const shown = await shownPixels(page);
  const { layers } = await stackNowWhenKept(house, page);
  expect((layers[0] as KindLayer).params['file']).toMatch(/^[0-9a-f]{24}:warm\.cube$/);
  await page.reload();
  await expect(page.getByRole('img', { name: 'dunes, as it is now' })).toBeVisible();
  await expect.poll(() => shownPixels(page)).toEqual(shown);
  await hands.tap(button(page, en.bench.export));
  await hands.tap(button(page, en.exports.makeTheFile));
  await expect(button(page, en.exports.download)).toBeVisible();
});

test('bands, levels and two controls at once on drawings of their own @phone', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'orchard-avenue');
  await hands.tap(button(page, /^Add Mono mix/));
  // The fourth of nine bands is leaf.
  await hands.drag(slider(page, /^Hues of Mono mix/), 0, -40, { x: 3.5 / 9, y: 0.5 });
  await hands.tap(button(page, en.desk.addALayer));
  await hands.tap(button(page, /^Add Levels/));
  await hands.drag(slider(page, /^Levels of Levels, all/), 60, 0, { x: 0.04, y: 0.9 });
  await hands.tap(button(page, en.desk.addALayer));
  await hands.tap(button(page, /^Add Tone/));
  await hands.tap(button(page, 'Test strip of Contrast of Tone'));
  await hands.tap(radio(page, 'with shadows'));
  const cells = page.getByRole('button', { name: /^Take Contrast and shadows/ });
  await expect(cells).toHaveCount(9);
  await hands.tap(cells.last());
  const { layers } = await stackNowWhenKept(house, page);
  const [mono, levels, tone] = layers.map((layer) => (layer as KindLayer).params as Record<string, number>);
  expect(mono?.['leaf']).toBeGreaterThan(0.4);
  expect(levels?.['outBlack']).toBeGreaterThan(0.1);
  expect(tone?.['contrast']).toBeGreaterThan(0.1);
  expect(tone?.['shadows']).toBeGreaterThan(0.1);
});
