import type { Page } from '@playwright/test';
import { curveFunction, type Curve, type KindLayer } from '@bexlen/core';
import { House } from './house';
import { fingers, shownPixels, type Hands } from './hands';
import { expect, test } from './story';
import { button, exportAndCompareSmall, importAndOpen, radio, slider, stackNowWhenKept } from './treatment';
import { en } from './words';

/** Monochrome, toned, infrared, solarised and matte prints, by touch, from an imported file to the finished one. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

const MOST_GESTURES = 10;

async function add(page: Page, hands: Hands, kind: string): Promise<void> {
  if (await button(page, en.desk.addALayer).isVisible()) await hands.tap(button(page, en.desk.addALayer));
  await hands.tap(button(page, new RegExp(`^Add ${kind} `)));
}

/** Drags on a place of the photo, up or down. */
async function dragOnPhoto(page: Page, hands: Hands, at: { x: number; y: number }, dy: number): Promise<void> {
  await hands.drag(page.getByRole('img', { name: /, as it is now$/ }), 0, dy, at);
}

async function compared(page: Page, hands: Hands, name: string): Promise<void> {
  const result = await shownPixels(page);
  await hands.hold(page.getByRole('img', { name: `${name}, as it is now` }), async () => {
    await expect(page.getByRole('img', { name: `${name}, original` })).toBeVisible();
    expect(await shownPixels(page)).not.toEqual(result);
  });
}

function said(job: string, count: number): void {
  console.log(`gestures of ${job} from open photo to finished look: ${count}`);
  expect(count).toBeLessThanOrEqual(MOST_GESTURES);
}

const paramsOf = (layer: unknown): Record<string, number> => (layer as KindLayer).params as Record<string, number>;

test('infrared by a copy: hues mixed, levels, a softened copy in multiply @phone', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'orchard-avenue');
  const before = hands.count();
  await add(page, hands, 'Mono mix');
  // One stroke, from leaf at the top down to blue at the bottom; what lies between follows.
  const board = slider(page, /^Hues of Mono mix/);
  await hands.drag(board, (3 / 9) * ((await board.boundingBox())?.width ?? 0), 150, { x: 3.5 / 9, y: 0.04 });
  await hands.drag(slider(page, 'Red of Mono mix'), -40, 0);
  await add(page, hands, 'Levels');
  await hands.drag(slider(page, 'Midtone of Levels'), 20, 0);
  await add(page, hands, 'Blur');
  await hands.drag(slider(page, 'Radius of Blur'), -30, 0);
  await hands.tap(radio(page, /^Multiply/));
  said('infrared by a copy', hands.count() - before);
  const { layers } = await stackNowWhenKept(house, page);
  expect(layers).toMatchObject([{ kind: 'mono-mix', params: { leaf: 1, blue: -1 } }, { kind: 'levels' }, { kind: 'blur', blend: 'multiply' }]);
  expect(paramsOf(layers[1])['midtone']).toBeGreaterThan(1.05);
  await compared(page, hands, 'orchard-avenue');
  await exportAndCompareSmall(house, page, hands, 'orchard-avenue');
});

test('infrared by hue: hues, the sky on the photo and by its histogram, grain @phone', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'orchard-avenue');
  const before = hands.count();
  await add(page, hands, 'Mono mix');
  // One stroke, from amber a little up to yellow and leaf all the way.
  const board = slider(page, /^Hues of Mono mix/);
  await hands.drag(board, (2 / 9) * ((await board.boundingBox())?.width ?? 0), -150, { x: 1.5 / 9, y: 0.42 });
  await dragOnPhoto(page, hands, { x: 0.2, y: 0.08 }, 130);
  await hands.tap(button(page, en.bench.histogram));
  await hands.drag(slider(page, /^Histogram/), -40, 0, { x: 0.5, y: 0.5 });
  await add(page, hands, 'Grain');
  await hands.drag(slider(page, 'Amount of Grain'), 20, 0);
  said('infrared by hue', hands.count() - before);
  const { layers } = await stackNowWhenKept(house, page);
  expect(layers.map(({ kind }) => kind)).toEqual(['mono-mix', 'grain', 'tone']);
  const mono = paramsOf(layers[0]);
  expect(mono).toMatchObject({ yellow: 1, leaf: 1 });
  expect(Math.min(mono['blue'] ?? 0, mono['sky'] ?? 0)).toBeLessThan(-0.4);
  expect(paramsOf(layers[2])['brightness']).toBeLessThan(-0.1);
  await hands.tap(button(page, en.bench.zoomIn));
  await hands.tap(button(page, en.bench.fitThePhoto));
  await compared(page, hands, 'orchard-avenue');
  await exportAndCompareSmall(house, page, hands, 'orchard-avenue');
});

test('solarised: monochrome, blacks to the top in a W, a node thrown out @phone', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'workbench');
  const before = hands.count();
  await add(page, hands, 'Mono mix');
  await add(page, hands, 'Curves');
  const curve = slider(page, /^Curve all of Curves/);
  await hands.tap(button(page, 'Start from W'));
  const waves = await stackNowWhenKept(house, page);
  await hands.drag(curve, 0, 320, { x: 0.5, y: 0.412 });
  said('solarising', hands.count() - before);
  const curveOf = (stack: typeof waves): Curve => (stack.layers[1] as KindLayer).params['all'] as Curve;
  expect(curveOf(waves).nodes).toHaveLength(5);
  expect(curveFunction(curveOf(waves))(0)).toBeGreaterThan(0.9);
  const { layers } = await stackNowWhenKept(house, page);
  const { nodes } = (layers[1] as KindLayer).params['all'] as Curve;
  expect(nodes).toHaveLength(4);
  await compared(page, hands, 'workbench');
  await exportAndCompareSmall(house, page, hands, 'workbench');
});

test('a matte print: hues mixed, paper lifted and dimmed by levels, chosen on a test strip @phone', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'puppet-portrait');
  const before = hands.count();
  await add(page, hands, 'Mono mix');
  await hands.drag(slider(page, 'Red of Mono mix'), 30, 0);
  await hands.drag(slider(page, 'Blue of Mono mix'), -30, 0);
  await add(page, hands, 'Levels');
  await hands.drag(slider(page, 'White becomes of Levels'), -16, 0);
  await hands.tap(button(page, 'Test strip of Black becomes of Levels'));
  const pieces = button(page, /^Take Black becomes/);
  await expect(pieces).toHaveCount(5);
  await hands.tap(pieces.nth(1));
  await expect(pieces).toHaveCount(0);
  said('the matte print', hands.count() - before);
  const { layers } = await stackNowWhenKept(house, page);
  const paper = paramsOf(layers[1]);
  expect(paper['outBlack']).toBeGreaterThan(0.05);
  expect(paper['outWhite']).toBeLessThan(0.95);
  await compared(page, hands, 'puppet-portrait');
  await exportAndCompareSmall(house, page, hands, 'puppet-portrait');
});
