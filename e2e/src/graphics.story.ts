import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { demo, House } from './house';
import { fingers, shownPixels } from './hands';
import { button } from './treatment';

/** A browser that offers a graphics processor, in software. */
const args = ['--headless', '--no-sandbox', '--enable-unsafe-webgpu', '--use-webgpu-adapter=swiftshader', '--no-first-run', '--disable-sync'];
test.use({ launchOptions: { executablePath: '/usr/bin/chromium', args } });

let house: House;
test.beforeEach(async () => {
  house = await House.open();
});
test.afterEach(() => house.close());

const canvasOf = (page: Page) => page.getByRole('img', { name: 'lane, as it is now' });

/** By how many levels two pictures differ at most. */
const apart = (a: readonly number[], b: readonly number[]): number => a.reduce((most, v, i) => Math.max(most, Math.abs(v - (b[i] ?? NaN))), 0);

interface Kept {
  devices?: GPUDevice[];
}
function keepDevices(): void {
  const { requestDevice } = GPUAdapter.prototype;
  const devices: GPUDevice[] = [];
  (self as Kept).devices = devices;
  GPUAdapter.prototype.requestDevice = async function (...given) {
    const device = await requestDevice.apply(this, given);
    devices.push(device);
    return device;
  };
}
function destroyDevices(): number {
  const { devices = [] } = self as Kept;
  devices.forEach((device) => device.destroy());
  return devices.length;
}

test('frames are drawn by the graphics processor, and by the processor from the frame on in which that is lost @phone', async ({ page }) => {
  const hands = await fingers(page);
  await page.addInitScript(() => {
    if (localStorage.getItem('bexlen-graphics') === null) localStorage.setItem('bexlen-graphics', JSON.stringify({ use: 'forced' }));
  });
  // What the engine is given, so that it can be taken away.
  await page.route('**/engine/worker-*.js', async (route) => {
    const response = await route.fetch();
    await route.fulfill({ response, body: `(${keepDevices.toString()})();\n${await response.text()}` });
  });
  await page.goto(house.address);
  const photo = await sharp(demo('lantern-lane.jpg')).resize(240).jpeg().toBuffer();
  await page.getByLabel('Photos to import').setInputFiles({ name: 'lane.jpg', mimeType: 'image/jpeg', buffer: photo });
  await expect(button(page, 'Open lane')).toBeVisible();
  await hands.tap(button(page, 'This device'));
  await expect(page.getByText(/^It draws: .*swiftshader/)).toBeVisible();
  await page.keyboard.press('Escape');
  await hands.tap(button(page, 'Open lane'));
  await expect(canvasOf(page)).toBeVisible();
  await hands.tap(button(page, /^Add Orton /));
  const fader = page.getByRole('slider', { name: 'Strength of Orton' });
  // Until its shaders are there the processor goes on.
  await expect
    .poll(async () => {
      await fader.press('ArrowLeft');
      return canvasOf(page).getAttribute('data-machine');
    })
    .toBe('gpu');
  const value = await fader.getAttribute('aria-valuenow');
  await expect(canvasOf(page)).toHaveAttribute('data-machine', 'gpu');
  const drawn = await shownPixels(page);
  expect(await Promise.all(page.workers().map((worker) => worker.evaluate(destroyDevices)))).toContain(1);
  await fader.press('ArrowRight');
  await fader.press('ArrowLeft');
  await expect(fader).toHaveAttribute('aria-valuenow', value ?? '');
  await expect(canvasOf(page)).toHaveAttribute('data-machine', 'cpu');
  await expect.poll(async () => apart(await shownPixels(page), drawn)).toBeLessThanOrEqual(1);
  await hands.tap(button(page, 'Back to the shelf'));
  await hands.tap(button(page, 'This device'));
  await expect(page.getByText('The processor draws. The graphics processor was lost.')).toBeVisible();
  await hands.tap(page.getByRole('switch', { name: 'Draw with the graphics processor' }));
  await expect(page.getByText('The processor draws. The graphics processor is switched off.')).toBeVisible();
  // What is no more than software is not taken unless it is forced.
  await hands.tap(page.getByRole('switch', { name: 'Draw with the graphics processor' }));
  await expect(page.getByText('The processor draws. There is no graphics processor here.')).toBeVisible();
});
