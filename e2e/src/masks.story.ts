import type { Page } from '@playwright/test';
import { nameOf, pointsOf, type Painted, type Stack } from '@bexlen/core';
import { finished, openOnBench, paramsOf, type Bench } from './bench';
import { House } from './house';
import { kept, shownPixels } from './hands';
import { expect, test } from './story';
import { button, exportAndCompare, exportAndCompareSmall, radio, slider } from './treatment';
import { en } from './words';

/** Light where it is wanted: masks on the photo, painting, light by hand; from an imported file to the finished one. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

const open = (page: Page, name: string, wide = false): Promise<Bench> => openOnBench(house, page, name, wide);
const namesOf = ({ layers }: Stack): string[] => layers.map(({ name }) => name);

/** The strokes of the first painting that a layer's mask names, as the server has them. */
async function strokesOf(stack: Stack, at: number): Promise<Painted[]> {
  const name = stack.layers[at]?.mask.parts.find(({ part }) => part === 'brush')?.params['strokes'] as string;
  const { strokes, missing } = await house.get<{ strokes: Painted[]; missing?: string }>(`/strokes/${name}`);
  expect(missing).toBeUndefined();
  expect(nameOf(strokes.at(-1) as Painted)).toBe(name);
  return strokes;
}

test('a moody gorge: darkened, light let back in by brush, spots, haze, dodged and burnt @phone', async ({ page }) => {
  const bench = await open(page, 'gorge-falls');
  await bench.add('Tone');
  await bench.fader('Shadows of Tone', 40);
  await bench.fader('Highlights of Tone', -30);
  await bench.add('Saturation');
  await bench.fader('Amount of Saturation', 25);
  // All darkened but what is painted: where it lands is said before what it is.
  await bench.addAt('Exposure', () => bench.pen([0.42, 0.38, 1], [0.52, 0.5, 1], [0.43, 0.48, 1], [0.53, 0.62, 1]), true);
  await bench.fader('Stops of Exposure', -34);
  await bench.hands.tap(radio(page, /^Where$/));
  await bench.hands.tap(radio(page, en.channel.hatching));
  const before = await shownPixels(page);
  await bench.draw({ x: 0.2, y: 0.65 }, 60, 20);
  await bench.draw({ x: 0.55, y: 0.85 }, 60, -10);
  expect(await shownPixels(page)).not.toEqual(before);
  await bench.add('Dodge and burn');
  await bench.draw({ x: 0.4, y: 0.75 }, 50, 8);
  await bench.draw({ x: 0.4, y: 0.75 }, 50, 8);
  await bench.hands.tap(radio(page, /^Burn$/));
  await bench.draw({ x: 0.75, y: 0.3 }, 30, 60);
  await bench.add('Haze');
  await bench.fader('Clear of Haze', -30);
  await bench.part('Ramp');
  await bench.hands.tap(button(page, en.channel.invertPart));
  await bench.part('Ramp', false);
  for (const [stops, place] of [
    [-16, { x: 0.25, y: 0.75 }],
    [14, { x: 0.47, y: 0.5 }],
  ] as const) {
    await bench.addAt('Exposure', () => bench.touch(place));
    await bench.fader(/^Stops of Exposure/, stops);
  }
  await bench.addAt('Grain', () => bench.touch({ x: 0.8, y: 0.4 }));
  await bench.add('Curves');
  await bench.hands.tap(button(page, 'Start from Gentle S'));
  bench.said('the moody gorge', 24);
  const stack = await bench.stack();
  expect(stack.layers.map(({ kind }) => kind)).toEqual([
    'tone',
    'saturation',
    'exposure',
    'dodge-burn',
    'haze',
    'exposure',
    'exposure',
    'grain',
    'curves',
  ]);
  expect(await strokesOf(stack, 2)).toHaveLength(3);
  expect(stack.layers[5]?.mask.parts).toMatchObject([{ part: 'spot' }]);
  await bench.close();
  await page.reload();
  await expect(bench.photo).toBeVisible();
  await exportAndCompare(house, page, bench.hands, 'gorge-falls');
});

test('drama: ovals, a rim broken by pen, a painted subject, one rock held back, cropped @phone', async ({ page }) => {
  const bench = await open(page, 'tower-path');
  const { hands } = bench;
  await bench.add('Bleach bypass');
  await bench.addAt('Exposure', () => bench.draw({ x: 0.55, y: 0.45 }, 60, 50));
  await bench.fader('Stops of Exposure', 16);
  await bench.addAt('Exposure', () => bench.draw({ x: 0.55, y: 0.45 }, 60, 50), true);
  await bench.fader(/^Stops of Exposure/, -18);
  await hands.tap(radio(page, /^Where$/));
  await bench.part('Brush', false);
  await bench.pen([0.3, 0.3, 0.2], [0.35, 0.5, 0.9], [0.3, 0.7, 0.4]);
  await bench.pen([0.7, 0.3, 0.9], [0.65, 0.6, 0.2]);
  await hands.drag(slider(page, 'Softening of Exposure'), 50, 0);
  await bench.addAt('Local contrast', () => bench.pen([0.5, 0.35, 0.6], [0.52, 0.55, 1], [0.48, 0.4, 0.8], [0.5, 0.65, 0.5]));
  await bench.fader('Fine of Local contrast', 40);
  await bench.addAt('Tone', () => bench.touch({ x: 0.3, y: 0.85 }));
  await bench.fader('Highlights of Tone', -40);
  bench.said('drama, without its crop', 24);
  await bench.rename('Tone', 'Rock held back');
  const stack = await bench.stack();
  expect(stack.layers.map(({ kind }) => kind)).toEqual(['bleach-bypass', 'exposure', 'exposure', 'local-contrast', 'tone']);
  expect(stack.layers[4]?.name).toBe('Rock held back');
  const strokes = await strokesOf(stack, 2);
  expect(strokes).toHaveLength(2);
  const pressures = pointsOf((strokes[0] as Painted).stroke).map(({ pressure }) => pressure);
  expect(Math.min(...pressures)).toBeLessThan(0.4);
  expect(Math.max(...pressures)).toBeGreaterThan(0.8);
  expect(stack.layers[2]?.mask.soften).toBeGreaterThan(0.001);
  // All of it can be taken back, stroke by stroke, and done again.
  await finished(page);
  const done = await shownPixels(page);
  for (let i = 0; i < 3; i++) await hands.tap(button(page, /^Undo/));
  await expect.poll(() => shownPixels(page)).not.toEqual(done);
  for (let i = 0; i < 3; i++) await hands.tap(button(page, /^Redo/));
  await expect.poll(() => shownPixels(page)).toEqual(done);
  await kept(page);
  await bench.close();
  // A tight crop leaves every mask on its thing.
  await hands.tap(button(page, en.desk.crop));
  await hands.tap(radio(page, /^1 : 1$|^Square$/));
  await hands.tap(button(page, /^Done$/));
  const cropped = await bench.stack();
  expect(cropped.geometry.crop.width).toBeLessThan(0.9);
  expect(cropped.layers.map(({ mask }) => mask)).toEqual(stack.layers.map(({ mask }) => mask));
  await exportAndCompareSmall(house, page, hands, 'tower-path');
});

test('clean edges, by vignette: off its centre, whites protected @phone', async ({ page }) => {
  const bench = await open(page, 'rehearsal-window');
  await bench.add('Vignette');
  await bench.draw({ x: 0.5, y: 0.5 }, -40, 25);
  await bench.fader('Protect whites of Vignette', 30);
  bench.said('clean edges by vignette', 6);
  const { layers } = await bench.stack();
  expect(paramsOf(layers[0])['x']).toBeLessThan(-0.1);
  expect(paramsOf(layers[0])['y']).toBeGreaterThan(0.05);
  expect(paramsOf(layers[0])['whites']).toBeGreaterThan(0.7);
  await bench.close();
  await exportAndCompareSmall(house, page, bench.hands, 'rehearsal-window', 2);
});

test('clean edges, by hand: a fill through a soft brush dulls the window until its gate is opened @phone', async ({ page }) => {
  const bench = await open(page, 'rehearsal-window');
  await bench.add('Fill');
  await bench.fader('Strength of Fill', -90);
  const said = page.getByText(/Dulls clean whites/);
  await expect(said).toBeVisible();
  await bench.part('Brush');
  await bench.draw({ x: 0.3, y: 0.15 }, 10, 120);
  await bench.draw({ x: 0.15, y: 0.6 }, 120, 60);
  const spare = button(page, en.channel.spareTheWhites);
  if (await spare.isVisible()) await bench.hands.tap(spare);
  bench.said('clean edges by hand', 6);
  const { layers } = await bench.stack();
  expect(layers[0]).toMatchObject({ kind: 'fill', mask: { parts: [{ part: 'brush' }] } });
  await bench.close();
  await exportAndCompareSmall(house, page, bench.hands, 'rehearsal-window', 2);
});

test('matte monochrome: hues mixed, matte levels, edges darkened by an inverted soft mask @phone', async ({ page }) => {
  const bench = await open(page, 'puppet-portrait');
  const { hands } = bench;
  await bench.add('Mono mix');
  const board = slider(page, /^Hues of Mono mix/);
  await hands.drag(board, (3 / 9) * ((await board.boundingBox())?.width ?? 0), 60, { x: 1.5 / 9, y: 0.3 });
  await bench.add('Levels');
  await bench.fader('Black becomes of Levels', 18);
  await bench.fader('White becomes of Levels', -14);
  await bench.addAt('Exposure', () => bench.draw({ x: 0.5, y: 0.45 }, 70, 90), true);
  await bench.fader('Stops of Exposure', -18);
  bench.said('matte monochrome', 8);
  const { layers } = await bench.stack();
  expect(layers).toMatchObject([{ kind: 'mono-mix' }, { kind: 'levels' }, { kind: 'exposure', mask: { parts: [{ part: 'oval', inverted: true }] } }]);
  expect(paramsOf(layers[1])['outBlack']).toBeGreaterThan(0.02);
  await bench.close();
  await exportAndCompareSmall(house, page, hands, 'puppet-portrait');
});

test('two zones: one oval used twice, outside and inside, then reshaped on its own @wide', async ({ page }) => {
  const bench = await open(page, 'lantern-lane', true);
  const { hands } = bench;
  await bench.addAt('Exposure', () => bench.draw({ x: 0.5, y: 0.5 }, 160, 90), true);
  await bench.fader('Stops of Exposure', -12);
  // Beside it a drag turns it.
  await bench.draw({ x: 0.06, y: 0.9 }, 0, -80);
  await bench.add('Exposure');
  await bench.fader(/^Stops of Exposure/, 6);
  await bench.fader(/^Contrast of Exposure/, 10);
  await bench.part('Same as');
  await hands.tap(button(page, en.channel.invertPart));
  const linked = await bench.stack();
  expect(linked.layers[1]?.mask.parts).toMatchObject([{ part: 'same-as', inverted: true, params: { layer: linked.layers[0]?.id } }]);
  await hands.tap(button(page, en.params.ownCopy));
  await bench.draw({ x: 0.5, y: 0.5 }, 50, 12);
  bench.said('two zones, by mouse', 12);
  const { layers } = await bench.stack();
  const [outer, inner] = layers.map(({ mask }) => mask.parts[0]);
  expect(outer).toMatchObject({ part: 'oval', inverted: true });
  expect(inner?.part).toBe('oval');
  expect(Math.abs(Number(outer?.params['angle']))).toBeGreaterThan(3);
  expect(inner?.params['angle']).toBe(outer?.params['angle']);
  expect(inner?.params['x']).not.toBe(outer?.params['x']);
  // By keys alone: the centre goes on.
  const centre = slider(page, 'Centre of oval');
  await centre.focus();
  await centre.press('ArrowRight');
  await expect.poll(async () => (await bench.stack()).layers[1]?.mask.parts[0]?.params['x']).not.toBe(inner?.params['x']);
  expect(namesOf(linked)).toHaveLength(2);
  await bench.close();
  await exportAndCompareSmall(house, page, hands, 'lantern-lane');
});
