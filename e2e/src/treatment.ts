import { type Locator, type Page } from '@playwright/test';
import { expect } from './expecting';
import sharp from 'sharp';
import type { Photo, Version } from '@bexlen/api';
import { namedIn, nameOf, namersOf, Resources, type Painted, type Stack } from '@bexlen/core';
import { demo, type House } from './house';
import { kept, type Hands } from './hands';
import { difference, trueResult } from './truth';
import { en } from './words';

export const slider = (page: Page, name: string | RegExp): Locator => page.getByRole('slider', { name });
export const button = (page: Page, name: string | RegExp): Locator => page.getByRole('button', { name });
export const radio = (page: Page, name: string | RegExp): Locator => page.getByRole('radio', { name });

/** Imports a demo photo and opens it on the bench. Its name is that of the file. @param of `demoWhole` for one as large as it is. */
export async function importAndOpen(house: House, page: Page, hands: Hands, name: string, of = demo): Promise<void> {
  await page.goto(house.address);
  await page.getByLabel(en.shelf.photosToImport).setInputFiles(of(`${name}.jpg`));
  await hands.tap(button(page, `Open ${name}`));
  await expect(page.getByRole('img', { name: `${name}, as it is now` })).toBeVisible();
}

/** The step in force of the only photo's first version, as the server has it. */
async function stepNow(house: House): Promise<Version['steps'][number]> {
  const [photo] = (await house.get<{ photos: Photo[] }>('/photos')).photos;
  const version = await house.get<Version>(`/versions/${photo?.versions[0]?.id}`);
  return version.steps[version.cursor] as Version['steps'][number];
}

export const stackNow = async (house: House): Promise<Stack> => (await stepNow(house)).stack;

/** The stack on the server, once its step is the one that the page would undo. */
export async function stackNowWhenKept(house: House, page: Page): Promise<Stack> {
  await kept(page);
  const last = await button(page, /^Undo/).getAttribute('aria-label');
  if (last !== 'Undo') await expect.poll(async () => `Undo ${(await stepNow(house)).words}`).toBe(last);
  return stackNow(house);
}

/** Gives the core what is painted in a stack. */
async function provideStrokes(house: House, stack: Stack, resources: Resources): Promise<void> {
  for (const painting of namersOf(stack.layers, 'painting').keys()) {
    const { strokes } = await house.get<{ strokes: Painted[] }>(`/strokes/${painting}`);
    strokes.forEach((painted) => resources.strokes.set(nameOf(painted), painted));
  }
}

/** Gives the core the photos that a stack lays over its own, as they lie among the demo photos. */
async function providePictures(house: House, stack: Stack, resources: Resources): Promise<void> {
  const { photos } = await house.get<{ photos: { id: string; name: string }[] }>('/photos');
  for (const id of namedIn(stack.layers, 'photo')) {
    const name = photos.find((photo) => photo.id === id)?.name ?? '';
    const { data, info } = await sharp(demo(`${name}.jpg`))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    resources.pictures.set(id, { layout: { width: info.width, height: info.height, depth: 8, channels: 3 }, bytes: data });
  }
}

/** Makes the file of a photo and downloads it. */
async function madeFile(page: Page, hands: Hands, name: string): Promise<{ data: Buffer; info: { width: number; height: number } }> {
  await hands.tap(button(page, en.bench.export));
  await hands.tap(button(page, en.exports.makeTheFile));
  await expect(button(page, en.exports.download)).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent('download'), hands.tap(button(page, en.exports.download))]);
  expect(file.suggestedFilename()).toBe(`${name} - Version 1.jpg`);
  return sharp(await file.path())
    .raw()
    .toBuffer({ resolveWithObject: true });
}

/**
 * Makes the file, downloads it, and compares its pixels with the core's own through the same encoder.
 * @param changed levels of 8 bits by which it differs from the original at least, on average.
 */
export async function exportAndCompare(house: House, page: Page, hands: Hands, name: string, changed = 8): Promise<void> {
  const stack = await stackNowWhenKept(house, page);
  const made = await madeFile(page, hands, name);
  const resources = new Resources();
  await provideStrokes(house, stack, resources);
  await providePictures(house, stack, resources);
  const truth = await trueResult(demo(`${name}.jpg`), stack, resources);
  expect([made.info.width, made.info.height]).toEqual([truth.width, truth.height]);
  const raw = { width: truth.width, height: truth.height, channels: 3 } as const;
  const through = await sharp(truth.pixels, { raw }).jpeg({ quality: 92, chromaSubsampling: '4:4:4' }).toBuffer();
  const { mean, worst } = difference(made.data, await sharp(through).raw().toBuffer());
  expect(mean).toBeLessThan(0.01);
  expect(worst).toBeLessThanOrEqual(4);
  await expectChanged(made, name, changed);
}

/** What is finer than this, in pixels of a small picture, is left out where pictures of two sizes are compared. */
const FINE = 4;

/** Makes the file, downloads it, and compares it with the small picture of the version, which is made of less pixels. @param changed as above. */
export async function exportAndCompareSmall(house: House, page: Page, hands: Hands, name: string, changed = 8): Promise<void> {
  await stackNowWhenKept(house, page);
  const made = await madeFile(page, hands, name);
  const [photo] = (await house.get<{ photos: Photo[] }>('/photos')).photos;
  const thumb = await fetch(`${house.address}/api/versions/${photo?.versions[0]?.id}/thumb`);
  const small = await sharp(Buffer.from(await thumb.arrayBuffer()))
    .raw()
    .toBuffer({ resolveWithObject: true });
  const { width, height } = small.info;
  const reduced = await sharp(made.data, { raw: { ...made.info, channels: 3 } })
    .resize(width, height, { fit: 'fill' })
    .raw()
    .toBuffer();
  // Grain and fine detail are others at another size: what is left without them is the same.
  const [one, two] = await Promise.all(
    [reduced, small.data].map((data) =>
      sharp(data, { raw: { width, height, channels: 3 } })
        .blur(FINE)
        .raw()
        .toBuffer(),
    ),
  );
  expect(difference(one as Buffer, two as Buffer).mean).toBeLessThan(1.5);
  await expectChanged(made, name, changed);
}

async function expectChanged(made: { data: Buffer; info: { width: number; height: number } }, name: string, changed: number): Promise<void> {
  const { width, height } = made.info;
  const original = await sharp(demo(`${name}.jpg`))
    .resize(width, height, { fit: 'fill' })
    .raw()
    .toBuffer();
  expect(difference(made.data, original).mean).toBeGreaterThan(changed);
}
