import { chromium, type Page } from '@playwright/test';
import sharp from 'sharp';
import { demo, House } from './house';
import { Bench } from './bench';
import { fingers, shownPixels, type Hands } from './hands';
import { expect, SCREENS, test as plain } from './story';
import { button } from './treatment';
import { en } from './words';

/** A browser that offers a graphics processor, in software. */
const args = [
  ...['--headless', '--no-sandbox', '--no-first-run', '--disable-sync', '--enable-unsafe-webgpu', '--use-webgpu-adapter=swiftshader'],
  // For a canvas besides.
  ...['--use-angle=swiftshader', '--enable-features=Vulkan', '--use-vulkan=swiftshader'],
];
const test = plain.extend<{ page: Page }>({
  // Named after the house: the browser goes before that is emptied.
  page: async ({ house: _house }, use) => {
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args });
    await use(await browser.newPage({ ...SCREENS['@phone'], serviceWorkers: 'block' }));
    await browser.close();
  },
});

let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

const canvasOf = (page: Page) => page.getByRole('img', { name: 'lane, as it is now' });

/** By how many levels two pictures differ at most. */
const apart = (a: readonly number[], b: readonly number[]): number => a.reduce((most, v, i) => Math.max(most, Math.abs(v - (b[i] ?? NaN))), 0);

interface Kept {
  devices?: GPUDevice[];
  images?: number;
}
/** Keeps devices, so that they can be taken away, and counts the images that were drawn without being read. */
function keepDevices(): void {
  const { requestDevice } = GPUAdapter.prototype;
  const devices: GPUDevice[] = [];
  (self as Kept).devices = devices;
  GPUAdapter.prototype.requestDevice = async function (...given) {
    const device = await requestDevice.apply(this, given);
    devices.push(device);
    return device;
  };
  const { transferToImageBitmap } = OffscreenCanvas.prototype;
  (self as Kept).images = 0;
  OffscreenCanvas.prototype.transferToImageBitmap = function () {
    (self as Kept).images = ((self as Kept).images ?? 0) + 1;
    return transferToImageBitmap.apply(this);
  };
}
const imagesSoFar = (): number => (self as Kept).images ?? 0;
function noAdapter(): void {
  GPU.prototype.requestAdapter = () => Promise.resolve(null);
}
/** What is read comes out darker than it is. */
function wrongPixels(): void {
  const { getMappedRange } = GPUBuffer.prototype;
  GPUBuffer.prototype.getMappedRange = function (...given) {
    const read = getMappedRange.apply(this, given);
    const bytes = new Uint8Array(read);
    bytes.forEach((v, i) => (bytes[i] = v >> 1));
    return read;
  };
}
function destroyDevices(): number {
  const { devices = [] } = self as Kept;
  devices.forEach((device) => device.destroy());
  return devices.length;
}

/** Opens a small photo with the graphics processor forced to draw, and what its engine finds there changed by a function. */
async function opened(page: Page, change: () => void, says: RegExp): Promise<Hands> {
  const hands = await fingers(page);
  await page.addInitScript(() => {
    if (localStorage.getItem('bexlen-graphics') === null) localStorage.setItem('bexlen-graphics', JSON.stringify({ use: 'forced' }));
  });
  await page.route('**/engine/worker-*.js', async (route) => {
    const response = await route.fetch();
    await route.fulfill({ response, body: `(${change.toString()})();\n${await response.text()}` });
  });
  await page.goto(house.address);
  const photo = await sharp(demo('lantern-lane.jpg')).resize(240).jpeg().toBuffer();
  await page.getByLabel(en.shelf.photosToImport).setInputFiles({ name: 'lane.jpg', mimeType: 'image/jpeg', buffer: photo });
  await expect(button(page, 'Open lane')).toBeVisible();
  await hands.tap(button(page, en.phone.thisDevice));
  await expect(page.getByText(says)).toBeVisible();
  await page.keyboard.press('Escape');
  await hands.tap(button(page, 'Open lane'));
  await expect(canvasOf(page)).toBeVisible();
  return hands;
}

const sum = (values: readonly number[]): number => values.reduce((all, v) => all + v, 0);
const inWorkers = async (page: Page, what: () => number): Promise<number> =>
  sum(await Promise.all(page.workers().map((worker) => worker.evaluate(what))));

/** How long shaders are waited for: they are compiled by the processor here, beside all else that it does. */
const COMPILED = 180_000;
/** Does something until its frames are drawn by the graphics processor: as long as its shaders are not there, the processor goes on. */
const untilDrawn = (page: Page, act: () => Promise<void>): Promise<void> =>
  expect
    .poll(
      async () => {
        await act();
        return canvasOf(page).getAttribute('data-machine');
      },
      { timeout: COMPILED },
    )
    .toBe('gpu');

for (const [what, change, says] of [
  ['no graphics processor', noAdapter, 'No graphics processor was found.'],
  ['one that draws other pictures', wrongPixels, 'Its pictures differ from those of the processor.'],
] as const)
  test(`with ${what} the processor draws, and the sheet says why @phone`, async ({ page }) => {
    const hands = await opened(page, change, new RegExp(`^The processor draws. ${says}$`));
    await hands.tap(button(page, /^Add Orton /));
    const before = await shownPixels(page);
    await page.getByRole('slider', { name: 'Strength of Orton' }).press('ArrowLeft');
    await expect.poll(async () => apart(await shownPixels(page), before)).toBeGreaterThan(0);
    await expect(canvasOf(page)).toHaveAttribute('data-machine', 'cpu');
  });

test('frames are drawn by the graphics processor, and by the processor from the frame on in which that is lost @phone', async ({ page }) => {
  const hands = await opened(page, keepDevices, /^It draws: .*swiftshader/);
  await hands.tap(button(page, /^Add Orton /));
  const fader = page.getByRole('slider', { name: 'Strength of Orton' });
  await untilDrawn(page, () => fader.press('ArrowLeft'));
  // While it is dragged, frames are seen without being read.
  const seen = await inWorkers(page, imagesSoFar);
  const box = await fader.boundingBox();
  const touch = await page.context().newCDPSession(page);
  const finger = (type: 'touchStart' | 'touchMove', dx: number) =>
    touch.send('Input.dispatchTouchEvent', { type, touchPoints: [{ x: (box?.x ?? 0) + 150 + dx, y: (box?.y ?? 0) + (box?.height ?? 0) / 2 }] });
  let dx = 0;
  await finger('touchStart', dx);
  await expect
    .poll(async () => {
      await finger('touchMove', ++dx + 20);
      return inWorkers(page, imagesSoFar);
    })
    .toBeGreaterThan(seen);
  const whileDragged = await shownPixels(page);
  await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect.poll(async () => apart(await shownPixels(page), whileDragged)).toBeLessThan(20);
  const bench = new Bench(house, page, hands, 'lane');
  await bench.close();
  await bench.add('Band focus');
  await untilDrawn(page, () => bench.draw({ x: 0.5, y: 0.5 }, 0, 20));
  await bench.close();
  await bench.add('Exposure');
  await bench.part('Brush');
  await untilDrawn(page, () => bench.draw({ x: 0.3, y: 0.3 }, 80, 30));
  await bench.close();
  // Closed and opened again, it draws from the first frame on.
  await hands.tap(button(page, en.bench.backToTheShelf));
  await hands.tap(button(page, 'Open lane'));
  await expect(canvasOf(page)).toHaveAttribute('data-machine', 'gpu');
  await hands.tap(button(page, 'Open Orton'));
  const value = await fader.getAttribute('aria-valuenow');
  await expect(canvasOf(page)).toHaveAttribute('data-machine', 'gpu');
  const drawn = await shownPixels(page);
  expect(await inWorkers(page, destroyDevices)).toBe(1);
  await fader.press('ArrowLeft');
  await fader.press('ArrowRight');
  await expect(fader).toHaveAttribute('aria-valuenow', value ?? '');
  await expect(canvasOf(page)).toHaveAttribute('data-machine', 'cpu');
  await expect.poll(async () => apart(await shownPixels(page), drawn)).toBeLessThanOrEqual(1);
  await hands.tap(button(page, en.bench.backToTheShelf));
  await hands.tap(button(page, en.phone.thisDevice));
  await expect(page.getByText('The processor draws. The graphics processor was lost.')).toBeVisible();
  await hands.tap(button(page, en.shelf.tryTheGraphicsProcessorAgain));
  await expect(page.getByText(/^It draws: .*swiftshader/)).toBeVisible();
  await hands.tap(page.getByRole('switch', { name: en.shelf.drawWithTheGraphicsProcessor }));
  await expect(page.getByText('The processor draws. The graphics processor is switched off.')).toBeVisible();
  // What is no more than software is not taken unless it is forced.
  await hands.tap(page.getByRole('switch', { name: en.shelf.drawWithTheGraphicsProcessor }));
  await expect(page.getByText('The processor draws. There is no graphics processor here.')).toBeVisible();
});
