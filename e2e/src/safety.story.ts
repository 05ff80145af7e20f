import fs from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import type { Page } from '@playwright/test';
import type { ExportJob, Photo, Version } from '@bexlen/api';
import { demo, demoWhole, House } from './house';
import { fingers, kept, shownPixels } from './hands';
import { expect, test } from './story';
import { button, radio, slider } from './treatment';
import { en } from './words';

/** What goes wrong around the work, and must lose nothing. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

async function openDunes(page: Page): Promise<void> {
  await page.goto(house.address);
  await page.getByLabel(en.shelf.photosToImport).setInputFiles(demo('dunes.jpg'));
  await button(page, 'Open dunes').tap();
  await button(page, /^Add Tone/).tap();
  await kept(page);
}

const brightness = (page: Page) => slider(page, 'Brightness of Tone');
const versionsNow = async (): Promise<Version[]> => {
  const [photo] = (await house.get<{ photos: Photo[] }>('/photos')).photos;
  return Promise.all((photo?.versions ?? []).map(({ id }) => house.get<Version>(`/versions/${id}`)));
};
const brightnessOf = ({ steps, cursor }: Version): number | undefined => {
  const [layer] = steps[cursor]?.stack.layers ?? [];
  return layer && layer.kind !== 'group' ? Number(layer.params['brightness']) : undefined;
};

test('a reload in the middle keeps the work and its undo @phone @quick', async ({ page }) => {
  await openDunes(page);
  await brightness(page).press('PageUp');
  await brightness(page).press('PageUp');
  await expect(brightness(page)).toHaveAttribute('aria-valuetext', '20 %');
  // At once, before the change can have been sent.
  await page.reload();
  // The channel that was open is open again.
  await expect(brightness(page)).toHaveAttribute('aria-valuetext', '20 %');
  await button(page, /^Undo Tone: brightness 10 % → 20 %/).tap();
  await expect(brightness(page)).toHaveAttribute('aria-valuetext', '10 %');
  await kept(page);
  await page.reload();
  await button(page, /^Redo Tone: brightness 10 % → 20 %/).tap();
  await kept(page);
  expect((await versionsNow()).map(brightnessOf)).toEqual([0.2]);
});

test('a reload shows what was unsent, also where it is sent while the page still opens @phone', async ({ page }) => {
  await openDunes(page);
  // The page has the version in hand, and waits for its photo, when the rest of the page sends what was left.
  await page.route('**/api/photos/*', async (route) => {
    await expect.poll(async () => (await versionsNow()).map(brightnessOf)).toEqual([0.2]);
    await route.continue();
  });
  await brightness(page).press('PageUp');
  await brightness(page).press('PageUp');
  await expect(brightness(page)).toHaveAttribute('aria-valuetext', '20 %');
  await page.reload();
  await expect(brightness(page)).toHaveAttribute('aria-valuetext', '20 %');
  await brightness(page).press('PageUp');
  await kept(page);
  expect((await versionsNow()).map(brightnessOf)).toEqual([0.3]);
});

test('what is switched, chosen or taken back is seen at once @phone', async ({ page }) => {
  await openDunes(page);
  await expect(page.getByRole('img', { name: 'dunes, as it is now' })).toBeVisible();
  const plain = await shownPixels(page);
  await brightness(page).press('PageUp');
  await expect.poll(() => shownPixels(page)).not.toEqual(plain);
  const lifted = await shownPixels(page);
  await page.getByRole('switch', { name: 'Tone on' }).tap();
  await expect.poll(() => shownPixels(page)).toEqual(plain);
  await button(page, /^Undo/).tap();
  await expect.poll(() => shownPixels(page)).toEqual(lifted);
  await page.getByRole('radio', { name: /^Multiply/ }).tap();
  await expect.poll(() => shownPixels(page)).not.toEqual(lifted);
});

test('what is painted while the server is away is kept: after a reload, and in its place @phone @killed', async ({ page }) => {
  await openDunes(page);
  await page.getByRole('radio', { name: /^Where$/ }).tap();
  await button(page, /^Brush:/).tap();
  const hands = await fingers(page);
  const photo = page.getByRole('img', { name: 'dunes, as it is now' });
  await hands.drag(photo, 60, 20, { x: 0.2, y: 0.4 });
  await kept(page);
  await house.stop('SIGKILL');
  await hands.drag(photo, 60, 20, { x: 0.2, y: 0.6 });
  await hands.drag(photo, -60, 20, { x: 0.8, y: 0.5 });
  await expect(page.getByText('kept here; server away')).toBeVisible();
  await house.start();
  // At once, before it has been tried again.
  await page.reload();
  await kept(page);
  const paintingOf = async (): Promise<string> => {
    const [version] = await versionsNow();
    return String(version?.steps[version.cursor]?.stack.layers[0]?.mask.parts[0]?.params['strokes']);
  };
  const strokesOf = async (name: string): Promise<unknown> => (await house.get<{ strokes: unknown[] }>(`/strokes/${name}`)).strokes;
  await expect.poll(async () => strokesOf(await paintingOf())).toHaveLength(3);
  await button(page, /^Undo .*painted/).tap();
  await button(page, /^Undo .*painted/).tap();
  await kept(page);
  await expect.poll(async () => strokesOf(await paintingOf())).toHaveLength(1);
});

test('two tabs change one version: both are kept @phone', async ({ page, context }) => {
  await openDunes(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await button(other, 'Open Tone').tap();
  // It hears nothing of the first change before it makes its own.
  await other.route('**/api/versions/*', (route) => route.abort());
  await brightness(page).press('PageUp');
  await kept(page);
  await brightness(other).press('PageDown');
  await other.unroute('**/api/versions/*');
  await expect(other.getByRole('alert')).toContainText('was changed somewhere else. Both are kept');
  await kept(other);
  const versions = await versionsNow();
  expect(versions.map(brightnessOf).sort()).toEqual([-0.1, 0.1]);
  expect(versions.map(({ name }) => name).sort()).toEqual(['Version 1', 'Version 1 (2)']);
  await expect(other).toHaveURL(new RegExp(`/bench/${versions.find(({ name }) => name === 'Version 1 (2)')?.id}`));
  await brightness(other).press('PageDown');
  await kept(other);
});

test('answers that are lost on the way make no second version @phone', async ({ page }) => {
  await openDunes(page);
  await page.route('**/api/versions/*', async (route) => {
    // What is sent arrives; nobody hears of it.
    await route.fetch();
    await route.abort();
  });
  await brightness(page).press('PageUp');
  await expect(page.getByText('kept here; server away')).toBeVisible();
  await brightness(page).press('PageUp');
  // An answer that is being lost is lost first.
  await page.unrouteAll({ behavior: 'wait' });
  await kept(page);
  expect((await versionsNow()).map(brightnessOf)).toEqual([0.2]);
  await page.route('**/api/versions/*', async (route) => {
    // A browser sends again what went over a connection that broke.
    await route.fetch();
    await route.continue();
  });
  await brightness(page).press('PageUp');
  await expect(button(page, /^Undo Tone: brightness 20 % → 30 %/)).toBeVisible();
  await kept(page);
  expect((await versionsNow()).map(brightnessOf)).toEqual([0.3]);
});

test('broken files are refused by name, whole ones go on the shelf @phone', async ({ page }) => {
  const whole = await fs.readFile(demo('workbench.jpg'));
  await page.goto(house.address);
  await expect(page.getByText('The shelf is empty.')).toBeVisible();
  await page.getByLabel(en.shelf.photosToImport).setInputFiles([
    { name: 'cut off.jpg', mimeType: 'image/jpeg', buffer: whole.subarray(0, 100_000) },
    { name: 'letter.png', mimeType: 'image/png', buffer: Buffer.from('Dear town council') },
    { name: 'empty.tif', mimeType: 'image/tiff', buffer: Buffer.alloc(0) },
    { name: 'workbench.jpg', mimeType: 'image/jpeg', buffer: whole },
  ]);
  await expect(button(page, 'Open workbench')).toBeVisible();
  await expect(page.getByText(/cut off\.jpg is damaged or cut off\. Copy it again/)).toBeVisible();
  await expect(page.getByText(/letter\.png is not a picture that can be read\. Bexlen reads/)).toBeVisible();
  await expect(page.getByText(/empty\.tif is empty\./)).toBeVisible();
  expect((await house.get<{ photos: Photo[] }>('/photos')).photos).toHaveLength(1);
});

test('the server stops and starts: work goes on, nothing is lost; an export outlives it, is made again, and cancelled @phone @killed', async ({
  page,
}) => {
  await openDunes(page);
  await house.stop('SIGKILL');
  await brightness(page).press('PageUp');
  await expect(page.getByText('kept here; server away')).toBeVisible();
  await brightness(page).press('PageUp');
  await brightness(page).press('PageUp');
  await expect(brightness(page)).toHaveAttribute('aria-valuetext', '30 %');
  await house.start();
  await kept(page);
  expect((await versionsNow()).map(brightnessOf)).toEqual([0.3]);
  await button(page, en.bench.export).tap();
  await page.getByRole('radio', { name: 'PNG' }).tap();
  await page.getByRole('radio', { name: '16 bit' }).tap();
  await button(page, en.exports.makeTheFile).tap();
  await expect(page.getByRole('group', { name: 'dunes - Version 1.png' })).toBeVisible();
  await house.stop('SIGKILL');
  await expect(page.getByText(en.state.theServerCannotBeReached)).toBeVisible();
  await house.start();
  await expect(button(page, en.exports.download)).toBeVisible();
  const [job] = (await house.get<{ exports: ExportJob[] }>('/exports')).exports;
  expect(job).toMatchObject({ state: 'done', depth: 16, format: 'png' });
  await button(page, /^Make dunes.*again/).tap();
  await button(page, /^Cancel dunes/).tap();
  await expect(page.getByText(/cancelled|MB ·/)).toBeVisible();
});

test('rows are carried by a finger: reordered, then grouped @phone', async ({ page }) => {
  const hands = await fingers(page);
  await openDunes(page);
  await button(page, en.desk.addALayer).tap();
  await button(page, /^Add Levels/).tap();
  await expect(button(page, 'Rename Levels')).toBeVisible();
  await button(page, en.bench.backToTheDesk).tap();
  const order = async (): Promise<string[]> => page.getByRole('button', { name: /^Open (Tone|Levels|Group)$/ }).allInnerTexts();
  expect(await order()).toEqual(['Tone', 'Levels']);
  await hands.drag(button(page, /^Move Levels/), 0, -118);
  await expect.poll(order).toEqual(['Levels', 'Tone']);
  await hands.drag(button(page, /^Move Tone/), 0, -84);
  await expect(button(page, 'Rename Group')).toBeVisible();
  // A click within a moment of a drop counts as part of it: on a busy machine the first tap may come in that moment.
  const back = button(page, en.bench.backToTheDesk);
  await expect(async () => {
    if (await back.isVisible()) await back.tap();
    expect(await order()).toEqual(['Group', 'Levels', 'Tone']);
  }).toPass({ intervals: [500] });
});

test('twelve files, one of a broken photo: stopped, gone on with, and ended @phone', async ({ page }) => {
  const hands = await fingers(page);
  const names = Array.from({ length: 12 }, (_, i) => `frame ${String(i + 1).padStart(2, '0')}`);
  const files = await Promise.all(
    names.map(async (name, i) => ({
      name: `${name}.jpg`,
      mimeType: 'image/jpeg',
      buffer: await sharp(demoWhole('dunes.jpg'))
        .resize(1500)
        .modulate({ hue: 10 * i })
        .jpeg()
        .toBuffer(),
    })),
  );
  await page.goto(house.address);
  await page.getByLabel(en.shelf.photosToImport).setInputFiles(files);
  await expect(page.getByRole('button', { name: /^Open frame/ })).toHaveCount(12);
  // One of the middle loses its second half.
  const originals = path.join(house.data, 'originals');
  const there = (await fs.readdir(originals, { recursive: true, withFileTypes: true })).filter((entry) => entry.isFile());
  const broken = path.join(there[5]?.parentPath ?? '', there[5]?.name ?? '');
  await fs.chmod(broken, 0o600);
  await fs.truncate(broken, Math.round((await fs.stat(broken)).size / 2));
  await hands.tap(button(page, en.shelf.select));
  for (const name of names) await hands.tap(page.getByRole('checkbox', { name: `Select ${name}` }));
  await hands.tap(button(page, 'Files of 12'));
  await hands.tap(radio(page, 'PNG'));
  await hands.tap(radio(page, '16 bit'));
  await hands.tap(button(page, 'Make 12 files'));
  await expect(page.getByText(/^[1-4] of 12 done .* a minute · about \d+ (s|min) left$/)).toBeVisible();
  await hands.tap(button(page, /^Stop \d+ files$/));
  await expect(page.getByText(/^\d+ of 12 done.* \d+ stopped$/)).toBeVisible();
  const states = async (): Promise<string[]> => (await house.get<{ exports: ExportJob[] }>('/exports')).exports.map(({ state }) => state);
  await expect.poll(async () => (await states()).filter((state) => state === 'waiting' || state === 'working')).toEqual([]);
  await hands.tap(button(page, /^Go on with \d+ files$/));
  await expect(page.getByRole('group', { name: '12 files' })).toHaveCount(0);
  const ended = await states();
  expect(ended.filter((state) => state === 'done')).toHaveLength(11);
  expect(ended.filter((state) => state === 'failed')).toHaveLength(1);
  await expect(page.getByText(/The photo is damaged or cut off\. Copy it again/)).toBeVisible();
});
