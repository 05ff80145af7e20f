import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { decode } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { demo, House } from './house';
import { madeDng } from '../../server/test/dng';
import { fingers, shownPixels, type Hands } from './hands';
import { expect, test } from './story';
import { button, radio, stackNowWhenKept } from './treatment';
import { en } from './words';

/** A photo in Display P3, from the import to its files, on a screen that shows all of it. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

/** A demo photo with strong colours in Display P3, as a phone writes it. */
async function widePhoto(): Promise<Buffer> {
  const saturated = sharp(demo('lantern-lane.jpg')).resize(1200).modulate({ saturation: 1.6 });
  return saturated.withIccProfile('p3').jpeg({ quality: 92 }).toBuffer();
}

/** Makes a file in some primaries, and downloads it: its profile, and the share of its pixels that linear sRGB has nothing like. */
async function fileIn(page: Page, hands: Hands, colours: string, files: number): Promise<{ profile: string | undefined; outside: number }> {
  await hands.tap(button(page, en.bench.export));
  await hands.tap(radio(page, 'PNG'));
  await hands.tap(radio(page, colours));
  await hands.tap(button(page, en.exports.makeTheFile));
  await expect(button(page, en.exports.download)).toHaveCount(files);
  const download = button(page, en.exports.download).first();
  const [file] = await Promise.all([page.waitForEvent('download'), hands.tap(download)]);
  const { icc } = await sharp(await file.path()).metadata();
  const { data } = await sharp(await file.path(), { ignoreIcc: true })
    .raw()
    .toBuffer({ resolveWithObject: true });
  let outside = 0;
  const light = (level: number | undefined): number => decode((level ?? 0) / 255);
  // The blue of linear sRGB out of linear Display P3 (CSS Color Module Level 4).
  for (let i = 0; i < data.length; i += 3)
    if (-0.0196 * light(data[i]) - 0.0786 * light(data[i + 1]) + 1.0983 * light(data[i + 2]) < -0.002) outside++;
  return { profile: icc?.toString('base64'), outside: (3 * outside) / data.length };
}

test('what sRGB cannot hold is seen, counted, and gets into the file @phone', async ({ page }) => {
  const hands = await fingers(page);
  const screen = await page.context().newCDPSession(page);
  await screen.send('Emulation.setEmulatedMedia', { features: [{ name: 'color-gamut', value: 'p3' }] });
  await page.goto(house.address);
  await page.getByLabel(en.shelf.photosToImport).setInputFiles({ name: 'lanterns.jpg', mimeType: 'image/jpeg', buffer: await widePhoto() });
  await hands.tap(button(page, 'Open lanterns'));
  const shown = page.getByRole('img', { name: 'lanterns, as it is now' });
  await expect(shown).toBeVisible();
  await hands.tap(button(page, /^Add Orton /));
  const [photo] = (await house.get<{ photos: Photo[] }>('/photos')).photos;
  expect(photo?.gamut).toBe('display-p3');
  await expect
    .poll(() => shown.evaluate((canvas: HTMLCanvasElement) => canvas.getContext('2d')?.getContextAttributes().colorSpace))
    .toBe('display-p3');
  await hands.tap(button(page, en.bench.histogram));
  await expect(page.getByText(/^[\d.]+ % outside sRGB$/)).toBeVisible();
  await hands.tap(button(page, en.bench.histogram));
  await stackNowWhenKept(house, page);
  const own = await fileIn(page, hands, 'As the photo', 1);
  expect(own.outside).toBeGreaterThan(0.02);
  await page.goBack();
  await expect(shown).toBeVisible();
  const narrow = await fileIn(page, hands, 'sRGB', 2);
  await screen.detach();
  // Read as the photo was, nothing of it needs more than sRGB any more.
  expect(narrow.profile).not.toBe(own.profile);
});

test('a raw file is developed, given a stop of light, and written @phone', async ({ page }) => {
  const hands = await fingers(page);
  await page.goto(house.address);
  const scene = (x: number, y: number): readonly [number, number, number] => [0.05 + x / 2000, 0.05 + y / 1600, 0.12];
  const jpeg = await sharp(demo('lantern-lane.jpg')).resize(240, 160).jpeg().toBuffer();
  const dng = madeDng(480, 320, scene, 0.9, { preview: { jpeg, width: 240, height: 160 } });
  // Development takes some seconds: until then what the camera stored is shown.
  let develop: () => void = () => undefined;
  const seen = new Promise<void>((resolve) => (develop = resolve));
  await page.route('**/api/uploads/*/take', async (route) => (await seen, await route.continue()));
  await page.getByLabel(en.shelf.photosToImport).setInputFiles({ name: 'field.dng', mimeType: 'image/x-adobe-dng', buffer: dng });
  const stored = page.getByRole('img', { name: 'field.dng, as the camera showed it' });
  await expect.poll(() => stored.evaluate((image: HTMLImageElement) => [image.naturalWidth, image.naturalHeight])).toEqual([240, 160]);
  develop();
  await hands.tap(button(page, 'Open field'));
  const shown = page.getByRole('img', { name: 'field, as it is now' });
  await expect(shown).toBeVisible();
  await hands.tap(button(page, en.bench.development));
  const before = await shownPixels(page);
  const light = page.getByRole('slider', { name: 'Light', exact: true });
  for (let i = 0; i < 2; i++) await light.press('PageUp');
  await expect(light).toHaveAttribute('aria-valuetext', /1\.00 EV/);
  await expect.poll(() => shownPixels(page)).not.toEqual(before);
  expect((await stackNowWhenKept(house, page)).development).toMatchObject({ light: 1 });
  // Reddish all over: what is there is called grey, and taken back.
  const lit = await shownPixels(page);
  await hands.tap(button(page, en.bench.pickAGrey));
  await hands.tap(page.getByLabel(en.onPhoto.tapSomethingGrey));
  await expect(button(page, en.bench.pickAGrey)).toBeVisible();
  await expect.poll(() => shownPixels(page)).not.toEqual(lit);
  expect(Math.abs((await stackNowWhenKept(house, page)).development?.warmth ?? 0)).toBeGreaterThan(0.1);
  await hands.tap(button(page, /^Undo/));
  await expect.poll(() => shownPixels(page)).toEqual(lit);
  await hands.tap(button(page, en.bench.done));
  await hands.tap(button(page, en.bench.export));
  await hands.tap(radio(page, 'PNG'));
  await hands.tap(button(page, en.exports.makeTheFile));
  await expect(button(page, en.exports.download)).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent('download'), hands.tap(button(page, en.exports.download))]);
  const { data, info } = await sharp(await file.path(), { ignoreIcc: true })
    .raw()
    .toBuffer({ resolveWithObject: true });
  expect([info.width, info.height]).toEqual([480, 320]);
  // Blue is the same all over: 0.12 of light at nine tenths, a stop brighter.
  const blue = data[3 * (160 * 480 + 100) + 2] ?? 0;
  expect(Math.abs(decode(blue / 255) - 2 * 0.9 * 0.12)).toBeLessThan(0.03);
});
