import fs from 'node:fs/promises';
import type { KeptLook, Photo, Version } from '@bexlen/api';
import type { Group, KindLayer } from '@bexlen/core';
import { demo, demoWhole, House } from './house';
import { fingers, kept, mouse } from './hands';
import { expect, test } from './story';
import { button, importAndOpen, radio, slider, stackNowWhenKept } from './treatment';
import { openOnBench } from './bench';
import { faults } from './reading';
import { en } from './words';

/** Looks: kept, carried to other photos, laid out and compared. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

test('brown landscape: monochrome with a darker sky, toned; the toning alone is kept and put on another photo @phone', async ({ page }) => {
  const bench = await openOnBench(house, page, 'dunes');
  const { hands } = bench;
  await bench.add('Mono mix');
  await hands.tap(button(page, en.channel.auto));
  await bench.draw({ x: 0.3, y: 0.15 }, 0, 90);
  await bench.add('Toning');
  await bench.fader('Strength of Toning', -60);
  const { layers } = await bench.stack();
  expect(layers.map(({ kind }) => kind)).toEqual(['mono-mix', 'toning']);
  const mono = (layers[0] as KindLayer).params;
  expect(Math.min(Number(mono['sky']), Number(mono['blue']))).toBeLessThan(-0.1);
  expect(layers[1]?.strength).toBeLessThan(0.9);
  await hands.tap(button(page, 'Take Toning as a look'));
  await page.getByRole('textbox', { name: en.looks.nameOfTheLook }).fill('Brown');
  await page.getByRole('textbox', { name: en.looks.folderOfTheLook }).fill('Prints');
  await hands.tap(button(page, en.looks.keepTheLook));
  await expect(page.getByRole('alert')).toContainText('“Brown” is in the lookbook');
  bench.said('the brown landscape, with its toning kept', 8);
  const own = (await house.get<{ looks: KeptLook[] }>('/looks')).looks.filter((look) => look.own);
  expect(own).toMatchObject([{ file: { name: 'Brown', folder: 'Prints', layers: [{ kind: 'toning' }] } }]);

  await importAndOpen(house, page, hands, 'workbench');
  await hands.tap(button(page, /^Looks$/));
  await hands.tap(radio(page, /^Prints$/));
  await hands.tap(button(page, 'Look Brown'));
  await hands.drag(slider(page, en.looks.strengthOfTheLook), -80, 0);
  await hands.tap(button(page, en.looks.putOn));
  await kept(page);
  const photo = (await house.get<{ photos: Photo[] }>('/photos')).photos.find(({ name }) => name === 'workbench');
  const version = await house.get<Version>(`/versions/${photo?.versions[0]?.id}`);
  const step = version.steps[version.cursor];
  expect(step?.words).toMatch(/^Put on Brown, \d+ %$/);
  expect(step?.stack.layers).toMatchObject([{ kind: 'toning' }]);
  await hands.tap(button(page, en.bench.undo));
  await expect(button(page, en.desk.chooseAFirstLayer).or(page.getByText(en.desk.chooseAFirstLayer))).toBeVisible();
});

test('one look goes onto three photos at once, and comes off again @phone', async ({ page }) => {
  const hands = await fingers(page);
  await page.goto(house.address);
  await page.getByLabel(en.shelf.photosToImport).setInputFiles(['dunes', 'workbench', 'tower-path'].map((name) => demo(`${name}.jpg`)));
  for (const name of ['dunes', 'workbench', 'tower-path']) await expect(button(page, `Open ${name}`)).toBeVisible();
  await hands.tap(button(page, en.shelf.select));
  for (const name of ['dunes', 'workbench', 'tower-path']) await hands.tap(page.getByRole('checkbox', { name: `Select ${name}` }));
  await hands.tap(button(page, 'Look for 3'));
  await hands.tap(radio(page, 'Monochrome'));
  await hands.tap(button(page, 'Look Chalk and slate'));
  await hands.tap(button(page, en.looks.fitThePhotoToTheLook));
  await expect(page.getByText(/^Fit: /)).toBeVisible();
  await hands.tap(button(page, 'Put on 3 photos'));
  await expect(page.getByText('“Chalk and slate” is on 3 photos, as a new version.')).toBeVisible();
  const versions = async (): Promise<string[][]> =>
    (await house.get<{ photos: Photo[] }>('/photos')).photos.map((photo) => photo.versions.map(({ name }) => name));
  expect(await versions()).toEqual(Array.from({ length: 3 }, () => ['Chalk and slate', 'Version 1']));
  // Each photo was brought on its own way to where the look was made.
  const { photos } = await house.get<{ photos: Photo[] }>('/photos');
  const fits = await Promise.all(
    photos.map(async ({ versions: [latest] }) => {
      const { steps, cursor } = await house.get<Version>(`/versions/${latest?.id}`);
      const [fit, look] = (steps[cursor]?.stack.layers ?? []) as Group[];
      expect([fit?.name, look?.name]).toEqual(['Fit', 'Chalk and slate']);
      return JSON.stringify(fit?.layers.map((layer) => (layer as KindLayer).params));
    }),
  );
  expect(new Set(fits).size).toBe(3);
  await hands.tap(button(page, en.bench.undo));
  await expect.poll(versions).toEqual(Array.from({ length: 3 }, () => ['Version 1']));
});

test('a version is built anew step by step, and a look of one’s own is given a sentence that its step says @phone', async ({ page }) => {
  const bench = await openOnBench(house, page, 'dunes');
  const { hands } = bench;
  await bench.add('Exposure');
  await bench.fader('Stops of Exposure', 20);
  await bench.add('Grain');
  await bench.close();
  await hands.tap(button(page, /^dunes/));
  await hands.tap(button(page, en.bench.buildNameStepByStep('Version 1')));
  const lesson = page.getByRole('region', { name: en.lessons.lessonName('Version 1') });
  await expect(lesson).toContainText('1/2');
  await expect(lesson).toContainText(/^.*More or less light, in stops. Here: Stops/);
  await hands.tap(button(page, /^Take$/));
  await hands.tap(button(page, en.lessons.takeAndFinish));
  await expect.poll(async () => (await stackNowWhenKept(house, page)).layers.map(({ kind }) => kind)).toEqual(['exposure', 'grain']);
  const { photos } = await house.get<{ photos: { versions: { name: string }[] }[] }>('/photos');
  expect(photos[0]?.versions.map(({ name }) => name).sort()).toEqual(['Version 1', 'Version 1, step by step']);
  // Taken as a look, it can be given reasons of its own.
  await hands.tap(button(page, 'Looks'));
  await hands.tap(radio(page, /^Take$/));
  await page.getByRole('textbox', { name: en.looks.nameOfTheLook }).fill('Dust road');
  await hands.tap(button(page, en.looks.keepTheLook));
  await expect(page.getByRole('alert')).toContainText('“Dust road” is in the lookbook');
  await hands.tap(button(page, 'Looks'));
  await hands.tap(button(page, /^Look Dust road/));
  await hands.tap(button(page, /^More$/));
  await hands.tap(button(page, en.controls.writeLabel(en.looks.whyNameIsThere('Grain'))));
  const field = page.getByRole('textbox', { name: en.looks.whyNameIsThere('Grain') });
  await field.fill('Dust hangs in the air.');
  await field.press('Enter');
  await expect
    .poll(async () =>
      (await house.get<{ looks: KeptLook[] }>('/looks')).looks.filter(({ own }) => own).map(({ file }) => (file as { says?: string[] }).says?.[1]),
    )
    .toEqual(['Dust hangs in the air.']);
});

test('a lesson is built on a photo of one’s own: a step changed, a step left out, and back @phone', async ({ page }) => {
  const bench = await openOnBench(house, page, 'orchard-avenue', false, demoWhole);
  const { hands } = bench;
  await hands.tap(button(page, en.desk.lessons));
  await hands.tap(button(page, 'Lesson Orton glow'));
  const lesson = page.getByRole('region', { name: 'Lesson: Orton glow' });
  await expect(lesson).toContainText('1/4');
  await expect(page.getByText('Open the middle tones first')).toBeVisible();
  const layers = async (): Promise<KindLayer[]> => (await bench.stack()).layers as KindLayer[];
  await expect.poll(async () => (await layers())[0]?.params['shadows']).toBe(0.15);
  await hands.tap(button(page, /^Take$/));
  await expect(lesson).toContainText('2/4');
  await expect.poll(async () => (await layers())[1]?.params['strength']).toBe(0.65);
  await hands.drag(slider(page, 'Soft copy'), -60, 0);
  await expect.poll(async () => (await layers())[1]?.params['strength']).toBeLessThan(0.6);
  const changed = Number((await layers())[1]?.params['strength']);
  await hands.tap(button(page, /^Take$/));
  await expect(lesson).toContainText('3/4');
  await hands.tap(button(page, en.lessons.leaveOut));
  await expect(lesson).toContainText('4/4');
  await hands.tap(button(page, en.lessons.backToTheStepBefore));
  await expect(lesson).toContainText('3/4');
  await hands.tap(button(page, en.lessons.leaveOut));
  expect(await faults(page)).toEqual([]);
  await hands.tap(button(page, en.lessons.takeAndFinish));
  await expect(page.getByRole('alert')).toContainText('“Orton glow” is built');
  expect((await layers()).map(({ kind, params }) => [kind, params['strength']])).toEqual([
    ['tone', undefined],
    ['orton', changed],
    ['local-contrast', undefined],
  ]);
});

test('looks over a photo as a sheet: on the screen, then on paper @phone', async ({ page }) => {
  const hands = await fingers(page);
  await page.goto(house.address);
  await page.getByLabel(en.shelf.photosToImport).setInputFiles(demo('lantern-lane.jpg'));
  await expect(button(page, 'Open lantern-lane')).toBeVisible();
  await hands.tap(page.getByRole('link', { name: en.controls.looks }));
  await hands.tap(radio(page, 'After dark'));
  await hands.tap(button(page, en.looks.compare));
  for (const look of ['Amber street', 'Moon over tin', 'Last tram']) await hands.tap(button(page, `Look ${look}`));
  await hands.tap(button(page, en.looks.sideBySide));
  await expect(page.getByRole('img', { name: 'Moon over tin' })).toBeVisible();
  await hands.tap(button(page, en.viewer.closeSideBySide));
  await hands.tap(button(page, en.looks.sheet));
  await expect(page.getByRole('img', { name: 'lantern-lane, Last tram' })).toBeVisible();
  await hands.tap(button(page, en.looks.contactSheet));
  await page.getByRole('textbox', { name: en.looks.titleOfTheSheet }).fill('Nights');
  await hands.tap(button(page, en.looks.makeTheSheet));
  await expect(button(page, en.exports.download)).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent('download'), hands.tap(button(page, en.exports.download))]);
  expect(file.suggestedFilename()).toBe('Nights.pdf');
  expect((await fs.readFile(await file.path())).subarray(0, 5).toString()).toBe('%PDF-');
});

test('two versions over each other, a place under the loupe, and another key for it @wide', async ({ page }) => {
  const hands = mouse(page);
  await importAndOpen(house, page, hands, 'tower-path');
  await hands.tap(button(page, en.controls.looks));
  await hands.tap(button(page, 'Look Moon over tin'));
  await hands.tap(button(page, /^Put on$/));
  await stackNowWhenKept(house, page);
  await hands.tap(button(page, /^tower-path Version 1/));
  await hands.tap(button(page, en.bench.duplicateVersion));
  await expect(page.getByText('Version 2')).toBeVisible();
  await hands.tap(button(page, en.bench.undo));
  await kept(page);
  await hands.tap(button(page, /^tower-path Version 2/));
  await hands.tap(button(page, 'Compare with Version 1'));
  await expect(page.getByRole('img', { name: 'Version 1' })).toBeVisible();
  await hands.tap(button(page, en.viewer.oneOverTheOther));
  await page.getByRole('slider', { name: en.bench.splitLine }).press('ArrowRight');
  await page.keyboard.press('Escape');

  await hands.tap(button(page, en.bench.keys));
  await hands.tap(button(page, /^Loupe: M/));
  await page.keyboard.press('l');
  await expect(page.getByRole('alert')).toContainText('L does “Split line”');
  await page.keyboard.press('n');
  await hands.tap(button(page, 'Close Keys'));
  await page.keyboard.press('n');
  const loupe = page.getByRole('slider', { name: en.bench.loupe });
  await expect(loupe).toHaveAttribute('aria-valuetext', '50 % across, 50 % down');
  await loupe.press('ArrowRight');
  await expect(loupe).toHaveAttribute('aria-valuetext', '52 % across, 50 % down');
  await expect(page.getByRole('img', { name: 'The place before' })).toBeVisible();
});
