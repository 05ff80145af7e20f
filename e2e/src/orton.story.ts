import type { Page } from '@playwright/test';
import { House } from './house';
import { fingers, mouse, pinch, shownPixels, type Hands } from './hands';
import { expect, test } from './story';
import { button, exportAndCompare, exportAndCompareSmall, importAndOpen, radio, slider, stackNowWhenKept } from './treatment';
import { en } from './words';

/** J14: the Orton glow without copies, built by hand, from import to the finished file. */
let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

const PHOTO = 'orchard-avenue';

/** Lifted sharp copy, blurred copy over it, gates, one fader over both. */
async function build(page: Page, hands: Hands): Promise<void> {
  await hands.tap(button(page, /^Add Tone/));
  await hands.drag(slider(page, 'Brightness of Tone'), 18, 0);
  await hands.tap(radio(page, /^Screen/));
  await hands.tap(button(page, en.desk.addALayer));
  await hands.tap(button(page, /^Add Blur/));
  await hands.drag(slider(page, 'Radius of Blur'), 14, 0);
  await hands.tap(radio(page, /^Multiply/));
  await hands.drag(slider(page, /^By its own tone: gate of Blur/), 0, 60, { x: 0.075, y: 0.1 });
  await hands.drag(slider(page, /^By the tone beneath: gate of Blur/), 0, 40, { x: 0.925, y: 0.1 });
  await hands.tap(page.getByRole('radiogroup', { name: 'Shape of the gate by its own tone' }).getByRole('radio', { name: en.channel.smooth }));
  await hands.tap(button(page, 'Group with Tone'));
  await hands.drag(slider(page, 'Strength of Group'), -30, 0);
}

test('Orton glow by touch, and its gentler variant @phone @quick', async ({ page }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, PHOTO);
  const before = hands.count();
  await build(page, hands);
  const gestures = hands.count() - before;
  console.log(`gestures from open photo to finished look: ${gestures}`);
  expect(gestures).toBeLessThanOrEqual(12);

  const stack = await stackNowWhenKept(house, page);
  expect(stack.layers).toHaveLength(1);
  const [group] = stack.layers;
  expect(group).toMatchObject({
    kind: 'group',
    layers: [
      { kind: 'tone', blend: 'screen' },
      { kind: 'blur', blend: 'multiply', gate: { own: { shape: 'smooth' } } },
    ],
  });
  expect(group?.strength).toBeLessThan(0.98);

  const result = await shownPixels(page);
  const photo = page.getByRole('img', { name: /orchard-avenue, / });
  await hands.hold(photo, async () => {
    await expect(page.getByRole('img', { name: 'orchard-avenue, original' })).toBeVisible();
    expect(await shownPixels(page)).not.toEqual(result);
  });
  await expect(page.getByRole('img', { name: 'orchard-avenue, as it is now' })).toBeVisible();

  const width = async (): Promise<number> => (await photo.boundingBox())?.width ?? 0;
  const fitting = await width();
  await pinch(page, photo, 2);
  expect(await width()).toBeGreaterThan(fitting * 1.5);
  await hands.tap(button(page, en.bench.backToTheDesk));
  await hands.tap(button(page, en.bench.fitThePhoto).or(slider(page, en.desk.heightOfTheDesk)).first());

  // Leaving and coming back finds everything as it was.
  await hands.tap(button(page, en.bench.backToTheShelf));
  await hands.tap(button(page, 'Open orchard-avenue'));
  await expect(slider(page, 'Strength of Blur')).toBeVisible();
  await expect.poll(() => shownPixels(page)).toEqual(result);

  // Its gentler variant: in overlay, kept out of the shadows.
  const glow = hands.count();
  await hands.tap(button(page, 'Open Blur'));
  await hands.tap(radio(page, /^Overlay/));
  await hands.drag(slider(page, /^By the tone beneath: gate of Blur/), 0, 90, { x: 0.075, y: 0.1 });
  console.log(`gestures from the glow to its gentler variant: ${hands.count() - glow}`);
  const gentler = await stackNowWhenKept(house, page);
  const blur = gentler.layers[0]?.kind === 'group' ? gentler.layers[0].layers[1] : undefined;
  expect(blur).toMatchObject({ blend: 'overlay' });
  expect(blur?.gate.beneath.nodes[0]?.[1]).toBeLessThan(0.2);
  await exportAndCompare(house, page, hands, PHOTO);
});

test('Orton glow by mouse and keyboard @wide', async ({ page }) => {
  const hands = mouse(page);
  await importAndOpen(house, page, hands, PHOTO);
  await hands.tap(button(page, en.desk.chooseAFirstLayer));
  await hands.tap(button(page, /^Add Tone/));
  await slider(page, 'Brightness of Tone').focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('PageUp');
  await hands.tap(radio(page, /^Screen/));
  await hands.tap(button(page, en.desk.addALayer));
  await hands.tap(button(page, /^Add Blur/));
  await button(page, /^Radius of Blur: .*Type a figure/).click();
  await page.keyboard.type('30');
  await page.keyboard.press('Enter');
  await hands.tap(radio(page, /^Multiply/));
  const gate = slider(page, /^By its own tone: gate of Blur/);
  await gate.focus();
  for (let i = 0; i < 20; i++) await page.keyboard.press('ArrowDown');
  await page.keyboard.press('+');
  const grip = button(page, /^Move Blur/);
  await grip.focus();
  await page.keyboard.press('ArrowUp');
  await slider(page, 'Strength of Group').last().focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('PageDown');
  const stack = await stackNowWhenKept(house, page);
  expect(stack.layers[0]).toMatchObject({
    kind: 'group',
    strength: 0.8,
    layers: [{ params: { brightness: 0.2 } }, { blend: 'multiply', params: { radius: 30 / 700 } }],
  });
  const blur = stack.layers[0]?.kind === 'group' ? stack.layers[0].layers[1] : undefined;
  expect(blur?.gate.own.nodes).toHaveLength(3);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(slider(page, 'Strength of Group').first()).toHaveAttribute('aria-valuetext', '100 %');
  await page.keyboard.press('Control+Shift+z');
  await page.keyboard.press('Control+Shift+z');
  await exportAndCompareSmall(house, page, hands, PHOTO);
});
