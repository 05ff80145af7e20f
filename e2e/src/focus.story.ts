import { find, type Focus, type KindLayer, type Layer } from '@bexlen/core';
import { openOnBench, paramsOf } from './bench';
import { demo, House } from './house';
import { expect, test } from './story';
import { button, exportAndCompare, exportAndCompareSmall, radio, slider, stackNowWhenKept } from './treatment';
import { en } from './words';

/** What is sharp, what lies over, what is painted; from an imported file to the finished one. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

const focusesIn = (layer: Layer | undefined): readonly Focus[] => (layer as KindLayer).params['focus'] as readonly Focus[];

test('a miniature: a band across a view from above, a lens, contrast and colour up @phone', async ({ page }) => {
  const bench = await openOnBench(house, page, 'rooftops-above');
  await bench.add('Band focus');
  await bench.draw({ x: 0.5, y: 0.5 }, 0, 24);
  await bench.hands.tap(button(page, 'Start from Model town'));
  bench.said('a miniature', 5);
  const { layers } = await bench.stack();
  const [band] = focusesIn(layers[0]);
  expect(band?.params['y']).toBeGreaterThan(0.03);
  expect(paramsOf(layers[0])['saturation']).toBeGreaterThan(0.2);
  await bench.close();
  await exportAndCompareSmall(house, page, bench.hands, 'rooftops-above', 4);
});

test('selective focus: band, oval and pins together; sides moved apart, the map in view while a pin moves, a pin removed @phone', async ({
  page,
}) => {
  const bench = await openOnBench(house, page, 'lantern-lane');
  const { hands } = bench;
  await bench.add('Band focus');
  await hands.drag(slider(page, 'Way to blur after of Band focus'), 40, 0);
  await hands.tap(button(page, 'Add oval'));
  await hands.tap(radio(page, 'Each apart'));
  await hands.drag(slider(page, 'To the left of Band focus'), 30, 0);
  await hands.tap(button(page, 'Add pin'));
  await bench.tapIn({ x: 0.2, y: 0.2 });
  await hands.drag(slider(page, 'Blur of Band focus').last(), 90, 0);
  await bench.tapIn({ x: 0.8, y: 0.2 });
  await expect.poll(async () => focusesIn((await bench.stack()).layers[0]).map(({ shape }) => shape)).toEqual(['band', 'oval', 'pin', 'pin', 'pin']);
  // The map is in view while a pin moves, and goes when it rests.
  const box = await bench.photo.boundingBox();
  if (!box) throw new Error('no photo');
  const touch = await page.context().newCDPSession(page);
  const at = (x: number, y: number) => ({ touchPoints: [{ x: box.x + box.width * x, y: box.y + box.height * y }] });
  await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', ...at(0.8, 0.2) });
  for (let i = 1; i <= 6; i++) await touch.send('Input.dispatchTouchEvent', { type: 'touchMove', ...at(0.8, 0.2 + 0.03 * i) });
  await expect(page.getByRole('img', { name: en.onPhoto.whatIsSharpHatched })).toBeVisible();
  await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect(page.getByRole('img', { name: en.onPhoto.whatIsSharpHatched })).toBeHidden();
  // Held still, a pin goes.
  await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', ...at(0.2, 0.2) });
  await expect.poll(async () => focusesIn((await bench.stack()).layers[0]).filter(({ shape }) => shape === 'pin').length).toBe(2);
  await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  bench.said('selective focus', 13);
  const all = focusesIn((await bench.stack()).layers[0]);
  expect(all[0]?.params['after']).not.toBeCloseTo(Number(all[0]?.params['before']), 3);
  expect(all[1]?.params['left']).not.toBeCloseTo(Number(all[1]?.params['right']), 3);
  expect(all.at(-1)?.params['y']).toBeGreaterThan(-0.15);
  await bench.close();
  await exportAndCompare(house, page, hands, 'lantern-lane', 0.3);
});

test('a reflection: a second photo over a window, screened, its own levels, blurred, pulled back; a missing one is told @phone', async ({ page }) => {
  await page.goto(house.address);
  await page.getByLabel(en.shelf.photosToImport).setInputFiles(demo('lantern-lane.jpg'));
  await expect(button(page, 'Open lantern-lane')).toBeVisible();
  const bench = await openOnBench(house, page, 'rehearsal-window');
  const { hands } = bench;
  await bench.add('Picture');
  await hands.tap(button(page, 'Lay over lantern-lane'));
  await expect.poll(async () => paramsOf((await bench.stack()).layers[0])['photo']).not.toBe('');
  await bench.draw({ x: 0.5, y: 0.5 }, 10, -8);
  await hands.tap(radio(page, /^How$/));
  await hands.tap(page.getByRole('radio', { name: /^Screen\./ }));
  await bench.add('Levels');
  await bench.fader('Black of Levels', 40);
  await bench.add('Blur');
  await bench.fader('Radius of Blur', -40);
  await bench.close();
  await bench.fader('Strength of Picture', -60);
  bench.said('a reflection', 8);
  const { layers } = await bench.stack();
  const [picture] = layers;
  expect(layers).toHaveLength(1);
  expect(picture?.layers?.map(({ kind }) => kind)).toEqual(['levels', 'blur']);
  expect(picture).toMatchObject({ kind: 'picture', blend: 'screen' });
  expect(picture?.strength).toBeLessThan(0.9);
  await page.reload();
  await expect(bench.photo).toBeVisible();
  expect((await stackNowWhenKept(house, page)).layers).toEqual(layers);
  await exportAndCompare(house, page, hands, 'rehearsal-window', 2);
  // Deleting the photo that lies over it says who would lose it; without it the channel says so, and no file is made.
  const { photos } = await house.get<{ photos: { id: string; name: string }[] }>('/photos');
  const other = photos.find(({ name }) => name === 'lantern-lane')?.id;
  const remove = (more = ''): Promise<Response> => fetch(`${house.address}/api/photos/${other}${more}`, { method: 'DELETE' });
  await fetch(`${house.address}/api/photos/${other}`, {
    method: 'PATCH',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ binned: true }),
  });
  const refused = await remove();
  expect([refused.status, ((await refused.json()) as { message: string }).message]).toEqual([
    409,
    '“lantern-lane” is laid over another photo: rehearsal-window (Version 1).',
  ]);
  expect((await remove('?anyway=1')).status).toBe(204);
  await page.goto(house.address);
  await hands.tap(button(page, 'Open rehearsal-window'));
  await expect(bench.photo).toBeVisible();
  await hands.tap(button(page, /^Open Picture/));
  await expect(page.getByText('This photo is no longer on the shelf', { exact: false })).toBeVisible();
  await hands.tap(button(page, en.bench.backToTheDesk));
  await hands.tap(button(page, en.bench.export));
  await hands.tap(button(page, en.exports.makeTheFile));
  await expect(page.getByText('The photo of “Picture” is no longer on the shelf.', { exact: false })).toBeVisible();
});

test('two treatments in two places: metal sharpened by high pass, the rest painted, in a group with a mask of its own @phone', async ({ page }) => {
  const bench = await openOnBench(house, page, 'workbench');
  const { hands } = bench;
  await bench.addAt('High pass', () => bench.draw({ x: 0.45, y: 0.5 }, -70, 40));
  await hands.tap(radio(page, /^How$/));
  await hands.tap(page.getByRole('radio', { name: /^Soft light\./ }));
  await bench.addAt('Brushwork', () => bench.draw({ x: 0.45, y: 0.5 }, -70, 40), true);
  await hands.tap(radio(page, /^How$/));
  await hands.tap(button(page, 'Group with High pass'));
  await bench.part('Ramp');
  bench.said('two treatments in two places', 15);
  const { layers } = await bench.stack();
  const [group] = layers;
  expect(group?.kind).toBe('group');
  expect(group?.mask.parts.map(({ part }) => part)).toEqual(['ramp']);
  expect(group?.layers?.map(({ kind, mask }) => [kind, mask.parts.length])).toEqual([
    ['high-pass', 1],
    ['brushwork', 1],
  ]);
  await page.reload();
  await expect(bench.photo).toBeVisible();
  // The group's channel is open as it was.
  await bench.close();
  await hands.tap(button(page, /^Open Brushwork/));
  await bench.fader('Brush of Brushwork', 30);
  await expect
    .poll(async () => paramsOf(find((await bench.stack()).layers, group?.layers?.[1]?.id ?? ''))['size'])
    .not.toBe(paramsOf(group?.layers?.[1])['size']);
  await bench.close();
  await exportAndCompare(house, page, hands, 'workbench', 1);
});

test('a dream: an oval in focus, turned and feathered, highlights lifted; faded monochrome, grain, sepia, glow in highlights, a warm edge; built up @phone', async ({
  page,
}) => {
  const bench = await openOnBench(house, page, 'puppet-portrait');
  const { hands } = bench;
  await bench.add('Oval focus');
  await bench.draw({ x: 0.5, y: 0.5 }, 8, -12);
  // Outside of it a drag turns it.
  await bench.draw({ x: 0.9, y: 0.85 }, -40, 15);
  await hands.drag(slider(page, 'Way to blur of Oval focus'), 25, 0);
  await hands.drag(slider(page, 'Lift highlights of Oval focus'), 25, 0);
  await bench.add('Film character');
  await hands.tap(button(page, 'Start from Chalk'));
  await bench.fader('Fade of Film character', 30);
  await bench.add('Grain');
  await bench.add('Toning');
  await hands.tap(button(page, /^Start from Sepia/));
  await bench.add('Glow');
  await bench.fader('Shadows of Glow', -90);
  await bench.add('Vignette');
  await hands.tap(button(page, 'Start from Warm edges'));
  await bench.fader('Strength of Vignette', -60);
  await hands.tap(button(page, en.bench.buildUpStepByStep));
  bench.said('a dream', 20);
  const { layers } = await bench.stack();
  expect(layers.map(({ kind }) => kind)).toEqual(['oval-focus', 'film-character', 'grain', 'toning', 'glow', 'vignette']);
  expect(Math.abs(Number(focusesIn(layers[0])[0]?.params['angle']))).toBeGreaterThan(3);
});
