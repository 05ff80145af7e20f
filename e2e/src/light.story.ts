import sharp from 'sharp';
import { openOnBench, paramsOf } from './bench';
import { demo, House } from './house';
import { expect, test } from './story';
import { button, exportAndCompareSmall, radio, slider } from './treatment';
import { difference, trueResult } from './truth';
import { en } from './words';

/** Light that spreads, edges that bite, prints that age; from an imported file to the finished one. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

test('soft light: all softened but an oval, the window spread far by its colour, a smaller file @phone', async ({ page }) => {
  const bench = await openOnBench(house, page, 'rehearsal-window');
  const { hands } = bench;
  await bench.addAt('Soft focus', () => bench.draw({ x: 0.5, y: 0.5 }, 60, 60), true);
  await bench.add('Blur');
  await bench.fader('Radius of Blur', 40);
  await bench.part('Colour');
  await bench.draw({ x: 0.42, y: 0.2 }, 12, 0);
  await hands.tap(button(page, en.channel.allOfIt));
  await hands.tap(radio(page, /^Screen/));
  await bench.fader('Strength of Blur', -60);
  await bench.add('Levels');
  await hands.tap(radio(page, /^Red$/));
  await bench.fader('Black becomes of Levels', 8);
  await bench.add('Sharpen');
  await hands.tap(button(page, en.channel.lookClose));
  await hands.tap(button(page, en.channel.fitThePhotoAgain));
  bench.said('soft light', 18);
  const stack = await bench.stack();
  expect(stack.layers).toMatchObject([
    { kind: 'soft-focus', mask: { parts: [{ part: 'oval', inverted: true }] } },
    { kind: 'blur', masked: true, blend: 'screen', mask: { parts: [{ part: 'colour' }] } },
    { kind: 'levels' },
    { kind: 'sharpen' },
  ]);
  expect(paramsOf(stack.layers[2])['redOutBlack']).toBeGreaterThan(0.01);
  await bench.close();
  await hands.tap(button(page, en.bench.export));
  await hands.tap(radio(page, en.exports.longEdge));
  const edge = page.getByRole('textbox', { name: en.exports.longEdgeInPixels });
  await edge.fill('480');
  await edge.press('Enter');
  await hands.tap(button(page, en.exports.makeTheFile));
  await expect(button(page, en.exports.download)).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent('download'), hands.tap(button(page, en.exports.download))]);
  const made = await sharp(await file.path())
    .raw()
    .toBuffer({ resolveWithObject: true });
  expect(Math.max(made.info.width, made.info.height)).toBe(480);
  // The look is the same at any size: the whole file made small is what was made small.
  const truth = await trueResult(demo('rehearsal-window.jpg'), stack);
  const small = await sharp(truth.pixels, { raw: { width: truth.width, height: truth.height, channels: 3 } })
    .resize(made.info.width, made.info.height, { fit: 'fill' })
    .raw()
    .toBuffer();
  expect(difference(made.data, small).mean).toBeLessThan(2.5);
});

test('an aged print: colour out, sepia, strong noise, a soft dark oval, cropped @phone', async ({ page }) => {
  const bench = await openOnBench(house, page, 'puppet-portrait');
  const { hands } = bench;
  await bench.add('Toning');
  await bench.add('Grain');
  await bench.fader('Amount of Grain', 60);
  await bench.add('Border');
  await hands.tap(button(page, 'Start from Cabinet oval'));
  await bench.fader('Lightness of Border', -120);
  await bench.close();
  await hands.tap(button(page, en.desk.crop));
  await hands.tap(radio(page, '5 : 4'));
  await hands.tap(button(page, en.bench.done));
  bench.said('an aged print', 9);
  const { layers, geometry } = await bench.stack();
  expect(layers.map(({ kind }) => kind)).toEqual(['toning', 'grain', 'border']);
  expect(geometry.crop.height).toBeLessThan(1);
  await exportAndCompareSmall(house, page, hands, 'puppet-portrait');
});

test('a cabinet portrait: white oval surround, brown tone, hard sharpening @phone', async ({ page }) => {
  const bench = await openOnBench(house, page, 'puppet-portrait');
  await bench.add('Border');
  await bench.hands.tap(button(page, 'Start from Cabinet oval'));
  await bench.add('Toning');
  await bench.add('Sharpen');
  await bench.hands.tap(button(page, 'Start from Pencil'));
  bench.said('a cabinet portrait', 7);
  const { layers } = await bench.stack();
  expect(layers.map(({ kind }) => kind)).toEqual(['border', 'toning', 'sharpen']);
  await bench.close();
  await exportAndCompareSmall(house, page, bench.hands, 'puppet-portrait');
});

test('atmosphere: soft focus, edges about a centre, mist before it brushed off in one place, fine grain @phone', async ({ page }) => {
  const bench = await openOnBench(house, page, 'orchard-avenue');
  await bench.add('Soft focus');
  await bench.add('Vignette');
  await bench.draw({ x: 0.5, y: 0.5 }, 20, 10);
  await bench.addAt('Mist', () => bench.pen([0.3, 0.8, 1], [0.45, 0.82, 1], [0.32, 0.84, 1], [0.46, 0.87, 1]), true);
  await bench.hands.tap(button(page, 'Start from Ground'));
  await bench.add('Grain');
  await bench.fader('Size of Grain', -20);
  bench.said('atmosphere', 12);
  const { layers } = await bench.stack();
  expect(layers).toMatchObject([
    { kind: 'soft-focus' },
    { kind: 'vignette' },
    { kind: 'mist', params: { spread: 'graduated' }, mask: { parts: [{ part: 'brush', inverted: true }] } },
    { kind: 'grain' },
  ]);
  await bench.close();
  await expect(slider(page, 'Strength of Mist')).toBeVisible();
  await exportAndCompareSmall(house, page, bench.hands, 'orchard-avenue');
});
