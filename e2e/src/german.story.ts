import { expect, test } from './story';
import { de, en } from './words';
import { mouse } from './hands';
import { demo, House } from './house';
import { button, radio, slider } from './treatment';
import { faults } from './reading';

let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

test('in German from the shelf to a file, by the browser’s language; then in English, by the switch @wide', async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, locale: 'de-AT', serviceWorkers: 'block' });
  const page = await context.newPage();
  const hands = mouse(page);
  await page.goto(house.address);
  await expect(page.getByText(de.shelf.theShelfIsEmptyImportPhotos)).toBeVisible();
  await page.getByLabel(de.shelf.photosToImport).setInputFiles(demo('dunes.jpg'));
  await hands.tap(button(page, de.shelf.openName('dunes')));
  // Kinds, their controls and what is said of them are in German too, and figures have commas.
  await hands.tap(button(page, de.desk.chooseAFirstLayer));
  await hands.tap(button(page, /^Belichtung hinzufügen/));
  await slider(page, 'Blenden von Belichtung').press('PageUp');
  await expect(slider(page, 'Blenden von Belichtung')).toHaveAttribute('aria-valuetext', /^\d,\d\d EV$/);
  await expect(button(page, /^Rückgängig: Belichtung/)).toBeVisible();
  await hands.tap(radio(page, /^Wo$/));
  await hands.tap(button(page, 'Oval: In einem Oval oder einem gerundeten Rechteck.'));
  await hands.tap(radio(page, /^Wie$/));
  await expect(page.getByRole('radio', { name: 'Multiplizieren. Dunkelt ab: zwei Dias auf einem Leuchttisch.' })).toBeVisible();
  expect(await faults(page)).toEqual([]);
  await hands.tap(button(page, de.bench.export));
  await expect(page.getByRole('dialog', { name: de.bench.export })).toBeVisible();
  await hands.tap(button(page, de.exports.makeTheFile));
  await expect(button(page, /^Laden$/)).toBeVisible();
  // A refusal of the server is told in German.
  expect((await house.get<{ exports: { fileName: string }[] }>('/exports')).exports.map(({ fileName }) => fileName)).toEqual([
    'dunes - Version 1.jpg',
  ]);
  await page.goto(house.address);
  await page.getByLabel(de.shelf.photosToImport).setInputFiles({ name: 'leer.jpg', mimeType: 'image/jpeg', buffer: Buffer.alloc(0) });
  await expect(page.getByText('leer.jpg ist leer.', { exact: false })).toBeVisible();
  await hands.tap(button(page, de.shelf.thisDevice));
  await hands.tap(radio(page, 'English'));
  await expect(button(page, en.shelf.openName('dunes'))).toBeVisible();
  await hands.tap(button(page, en.shelf.openName('dunes')));
  await expect(button(page, /^Undo /)).toBeVisible();
  await context.close();
});
