import type { Page } from '@playwright/test';
import { fingers } from './hands';
import { demo } from './house';
import { expect, test } from './story';
import { faults } from './reading';
import { button, importAndOpen } from './treatment';
import { en } from './words';

/** Every icon in sight that has no words of its own says what it is called to a mouse that rests on it. Returns how many there are. */
async function namesSeen(page: Page): Promise<number> {
  const icons = await page.locator('[role="button"], [role="switch"], [role="radio"], button').all();
  let seen = 0;
  for (const icon of icons) {
    const [name, words, off] = await Promise.all([icon.getAttribute('aria-label'), icon.innerText(), icon.getAttribute('aria-disabled')]);
    const box = await icon.boundingBox();
    const { width, height } = page.viewportSize() ?? { width: 0, height: 0 };
    if (
      !name ||
      words.trim() !== '' ||
      off === 'true' ||
      !box ||
      box.width === 0 ||
      box.x < 0 ||
      box.x + box.width > width ||
      box.y + box.height > height
    )
      continue;
    await icon.hover();
    await expect(page.locator('[data-seen="name"]')).toContainText(name);
    seen++;
  }
  await page.mouse.move(0, 0);
  return seen;
}

for (const screen of ['@phone', '@wide'])
  test(`shelf, rack, open channel, desk and exports can be read and reached ${screen}`, async ({ page, house }) => {
    const isMobile = screen === '@phone';
    await page.goto(house.address);
    await page.getByLabel(en.shelf.photosToImport).setInputFiles(demo('dunes.jpg'));
    const open = page.getByRole('button', { name: 'Open dunes' });
    await expect(open).toBeVisible();
    expect.soft(await faults(page)).toEqual([]);
    await page.getByRole('button', { name: 'About dunes' }).click();
    await expect(page.getByRole('button', { name: 'Write: Caption' })).toBeVisible();
    expect.soft(await faults(page)).toEqual([]);
    if (isMobile) await page.getByRole('button', { name: 'Close About this photo' }).click();
    await open.click();
    if (!isMobile) await page.getByRole('button', { name: en.desk.chooseAFirstLayer }).click();
    const blur = page.getByRole('button', { name: /^Add Blur/ });
    await expect(blur).toBeVisible();
    expect.soft(await faults(page)).toEqual([]);
    await blur.click();
    await expect(page.getByRole('slider', { name: 'Radius of Blur' })).toBeVisible();
    expect.soft(await faults(page)).toEqual([]);
    // A channel is the same on both screens: each kind of board is looked at on one of them.
    for (const kind of isMobile ? ['Grade', 'Levels', 'Hue bands', 'Channel mix', 'Toning'] : ['Curves', 'Cube', 'Toning']) {
      await page.getByRole('button', { name: en.desk.addALayer }).click();
      await page.getByRole('button', { name: new RegExp(`^Add ${kind} `) }).click();
      await expect(page.getByRole('slider', { name: new RegExp(`Strength of ${kind}`) }).first()).toBeVisible();
      expect.soft(await faults(page)).toEqual([]);
    }
    if (!isMobile) expect(await namesSeen(page)).toBeGreaterThan(15);
    await page.getByRole('button', { name: 'Test strip of Strength of Toning' }).click();
    await page.getByRole('button', { name: 'Test strip of Lightness of Toning' }).click();
    await page.getByRole('button', { name: en.bench.histogram }).click();
    await page.getByRole('button', { name: en.bench.splitLine }).click();
    expect.soft(await faults(page)).toEqual([]);
    await page.getByRole('button', { name: en.bench.markClippedEnds }).click();
    await page.getByRole('button', { name: en.bench.zones, exact: true }).click();
    expect.soft(await faults(page)).toEqual([]);
    await page.getByRole('button', { name: en.bench.backToTheDesk }).click();
    await page.getByRole('button', { name: en.desk.crop, exact: true }).click();
    await expect(page.getByRole('slider', { name: /^Crop\./ })).toBeVisible();
    expect.soft(await faults(page)).toEqual([]);
    await page.getByRole('button', { name: en.bench.done }).click();
    expect.soft(await faults(page)).toEqual([]);
    await page.goto(`${house.address}/exports`);
    await expect(page.getByText('No exports yet.')).toBeVisible();
    expect.soft(await faults(page)).toEqual([]);
    await page.getByRole('link', { name: en.controls.looks }).click();
    await page.getByRole('button', { name: 'Look Amber street' }).click();
    expect.soft(await faults(page)).toEqual([]);
    await page.getByRole('button', { name: en.looks.more }).click();
    await expect(page.getByText('It comes with Bexlen')).toBeVisible();
    expect.soft(await faults(page)).toEqual([]);
  });

test('the desk is mirrored for the left hand, and stays so @phone', async ({ page, house }) => {
  const hands = await fingers(page);
  await importAndOpen(house, page, hands, 'dunes');
  await hands.tap(button(page, /^Add Tone /));
  await hands.tap(button(page, en.bench.backToTheDesk));
  const left = async (name: string): Promise<number> => (await button(page, name).boundingBox())?.x ?? NaN;
  expect(await left('Solo Tone')).toBeGreaterThan(195);
  await hands.tap(button(page, en.desk.deskForTheLeftHand));
  await expect.poll(() => left('Solo Tone')).toBeLessThan(195);
  // The fader still grows to the right.
  const fader = page.getByRole('slider', { name: 'Strength of Tone' });
  await hands.drag(fader, -60, 0);
  await expect(fader).not.toHaveAttribute('aria-valuetext', '100 %');
  await page.reload();
  await expect.poll(() => left('Solo Tone')).toBeLessThan(195);
});
