import type { Page } from '@playwright/test';
import type { Photo } from '@bexlen/api';
import { demo, House } from './house';
import { fingers, kept, mouse } from './hands';
import { expect, test } from './story';
import { button, importAndOpen, stackNowWhenKept } from './treatment';
import { en } from './words';

/** The sheet of photos, and what can be read about each. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

/** By how much red and blue differ at most in a photo's picture on the sheet. */
const colourOf = (page: Page, name: string): Promise<number> =>
  button(page, `Open ${name}`)
    .locator('img')
    .evaluate(async (node) => {
      const image = node as HTMLImageElement;
      await image.decode();
      const canvas = Object.assign(document.createElement('canvas'), { width: 60, height: 40 });
      const ink = canvas.getContext('2d') as CanvasRenderingContext2D;
      ink.drawImage(image, 0, 0, 60, 40);
      const { data } = ink.getImageData(0, 0, 60, 40);
      let most = 0;
      for (let i = 0; i < data.length; i += 4) most = Math.max(most, Math.abs((data[i] as number) - (data[i + 2] as number)));
      return most;
    });

async function write(page: Page, label: string, words: string): Promise<void> {
  await button(page, `Write: ${label}`).click();
  await page.getByRole('textbox', { name: label, exact: true }).fill(words);
  await page.keyboard.press('Enter');
}

test('the sheet shows treatments; names and captions are written where they are read @phone @quick', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'dunes');
  await hands.tap(button(page, /^Add Mono mix /));
  await kept(page);
  await hands.tap(button(page, en.bench.backToTheShelf));
  await expect.poll(() => colourOf(page, 'dunes')).toBeLessThan(4);

  await hands.tap(button(page, 'About dunes'));
  await write(page, 'Name of Version 1', 'Grey');
  await write(page, 'Caption', 'Wind over the ridge');
  await write(page, 'Name of the photo', 'Ridge');
  await expect(button(page, 'Write: Name of Grey')).toBeVisible();
  await page.reload();
  await page.getByRole('textbox', { name: en.shelf.searchNamesAndCaptions }).fill('WIND over');
  await expect(button(page, 'Open Ridge')).toBeVisible();
  await page.getByRole('textbox', { name: en.shelf.searchNamesAndCaptions }).fill('sea');
  await expect(button(page, 'Open Ridge')).toBeHidden();
  const [photo] = (await house.get<{ photos: Photo[] }>('/photos')).photos;
  expect(photo).toMatchObject({ name: 'Ridge', caption: 'Wind over the ridge', versions: [{ name: 'Grey', layers: 1 }] });
});

test('a photo is read about beside the sheet, and each version opened from there @wide', async ({ page }) => {
  const hands = mouse(page);
  await page.goto(house.address);
  await page.getByLabel(en.shelf.photosToImport).setInputFiles([demo('dunes.jpg'), demo('tower-path.jpg')]);
  await expect(button(page, 'Open tower-path')).toBeVisible();
  await hands.tap(button(page, 'About dunes'));
  const pane = page.getByRole('complementary', { name: 'About dunes' });
  await expect(pane.getByText('8 bit')).toBeVisible();
  await hands.tap(pane.getByRole('button', { name: 'Open Version 1' }));
  await expect(page.getByRole('img', { name: 'dunes, as it is now' })).toBeVisible();

  await hands.tap(button(page, /^dunes/));
  await hands.tap(button(page, en.bench.duplicateVersion));
  await expect(page.getByText('Version 2')).toBeVisible();
  await hands.tap(button(page, /^dunes/));
  await write(page, 'Name of Version 2', 'Quieter');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(button(page, /^dunes/)).toContainText('Quieter');
  await page.goBack();
  await expect(page.getByRole('complementary', { name: 'About dunes' }).getByText('Quieter')).toBeVisible();

  // Escape leaves a name as it was; so does a name of nothing.
  await button(page, 'Write: Name of Quieter').click();
  await page.keyboard.type('Loud');
  await page.keyboard.press('Escape');
  await write(page, 'Name of Quieter', '  ');
  await expect(button(page, 'Write: Name of Quieter')).toBeVisible();
  const { photos } = await house.get<{ photos: Photo[] }>('/photos');
  expect(photos.find(({ name }) => name === 'dunes')?.versions.map(({ name }) => name)).toEqual(['Quieter', 'Version 1']);
});

test('the bench is never without a picture: the small one stands there from the tap on, on a slow machine too @phone', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'dunes');
  await hands.tap(button(page, /^Add Mono mix/));
  await stackNowWhenKept(house, page);
  await page.goto(house.address);
  const frame = button(page, 'Open dunes');
  await expect(frame).toBeVisible();
  const small = page.waitForResponse((answer) => /\/versions\/.*\/thumb\?revision=\d+$/.test(answer.url()));
  await page.reload();
  await small;
  const slow = await page.context().newCDPSession(page);
  await slow.send('Emulation.setCPUThrottlingRate', { rate: 4 });
  // In each frame: whether the bench is there, and whether a picture with something in it is.
  await page.evaluate(() => {
    const seen: { at: number; bench: boolean; picture: boolean; grey: boolean }[] = [];
    Object.assign(globalThis, { seen });
    const look = (): void => {
      const bench = document.querySelector('[aria-label="Export"]') !== null;
      const early = [...document.querySelectorAll('img')].find(({ alt }) => /opening/i.test(alt));
      const late = [...document.querySelectorAll('canvas')].find((it) => it.getAttribute('aria-label')?.endsWith('as it is now'));
      const { data } =
        (late?.width ? late.getContext('2d') : null)?.getImageData(late ? late.width >> 1 : 0, late ? late.height >> 1 : 0, 1, 1) ?? {};
      const grey = early !== undefined || !data || Math.abs((data[0] ?? 0) - (data[2] ?? 0)) <= 1;
      const picture = (early !== undefined && early.complete && early.naturalWidth > 0) || (data?.[3] ?? 0) > 0;
      seen.push({ at: performance.now(), bench, picture, grey });
      requestAnimationFrame(look);
    };
    look();
  });
  await hands.tap(frame);
  await expect(page.getByRole('img', { name: 'dunes, as it is now' })).toBeVisible();
  await expect(page.getByAltText(/opening/i)).toHaveCount(0);
  await slow.detach();
  const seen = await page.evaluate(() => (globalThis as unknown as { seen: { bench: boolean; picture: boolean; grey: boolean }[] }).seen);
  const onBench = seen.filter(({ bench }) => bench);
  expect(onBench.length).toBeGreaterThan(0);
  expect(onBench.filter(({ picture }) => !picture)).toEqual([]);
  // Nor is the photo seen without its layers for a moment.
  expect(onBench.filter(({ grey }) => !grey)).toEqual([]);
});
