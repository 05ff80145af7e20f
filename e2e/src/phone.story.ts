import fs from 'node:fs/promises';
import path from 'node:path';
import type { Browser, Page } from '@playwright/test';
import type { PairingCode, PhoneState, Photo, Version } from '@bexlen/api';
import { demo, House } from './house';
import { kept, shownPixels } from './hands';
import { ADDRESS, expect, test } from './story';
import { button, slider } from './treatment';
import { en } from './words';

let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

const SIZE = { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true, deviceScaleFactor: 2 };
const newPhone = async (browser: Browser, serviceWorkers: 'allow' | 'block' = 'block'): Promise<Page> =>
  (await browser.newContext({ ...SIZE, serviceWorkers, ignoreHTTPSErrors: true })).newPage();

async function pair(phone: Page, code: string, name: string): Promise<void> {
  await phone.goto(`${house.outside(ADDRESS)}/pair#${code}`);
  await phone.getByLabel('What this device is called').fill(name);
  await button(phone, 'Pair').tap();
}
async function pairedPhone(browser: Browser, serviceWorkers?: 'allow' | 'block'): Promise<Page> {
  const phone = await newPhone(browser, serviceWorkers);
  const answer = await fetch(`${house.address}/api/phone/codes`, { method: 'POST' });
  await pair(phone, ((await answer.json()) as PairingCode).code, 'Phone of Ada');
  await expect(button(phone, en.shelf.importPhotos)).toBeVisible();
  return phone;
}
const devices = async (): Promise<string[]> => (await house.get<PhoneState>('/phone')).devices.map(({ name }) => name);
const photosNow = async (): Promise<Photo[]> => (await house.get<{ photos: Photo[] }>('/photos')).photos;
async function brightnessNow(): Promise<unknown[]> {
  const [photo] = await photosNow();
  const versions = await Promise.all((photo?.versions ?? []).map(({ id }) => house.get<Version>(`/versions/${id}`)));
  return versions.map(({ steps, cursor }) => {
    const [layer] = steps[cursor]?.stack.layers ?? [];
    return layer && layer.kind !== 'group' ? layer.params['brightness'] : undefined;
  });
}
const importTo = (page: Page, ...files: string[]): Promise<void> => page.getByLabel(en.shelf.photosToImport).setInputFiles(files.map(demo));
const brightness = (page: Page) => slider(page, 'Brightness of Tone');

test('the sheet Phone lets phones in and shuts them out at once @phone', async ({ page, browser }) => {
  await page.goto(house.address);
  await importTo(page, 'dunes.jpg');
  await button(page, en.phone.phone).tap();
  const doors = page.getByRole('switch', { name: en.phone.letPhonesIn });
  await doors.tap();
  await expect(page.getByText('Only this computer can open Bexlen.')).toBeVisible();
  const phone = await newPhone(browser);
  await expect(phone.goto(house.outside(ADDRESS))).rejects.toThrow(/ERR_CONNECTION_REFUSED/);
  await doors.tap();
  await expect(page.getByText('that you pair can see and change your photos')).toBeVisible();
  await pair(phone, await page.getByLabel(en.phone.code, { exact: true }).innerText(), 'Phone of Ada');
  await expect(button(phone, 'Open dunes')).toBeVisible();
  await expect(page.getByRole('group', { name: 'Phone of Ada' })).toBeVisible();
  await doors.tap();
  await expect(page.getByText('Only this computer can open Bexlen.')).toBeVisible();
  await expect(phone.goto(house.outside(ADDRESS))).rejects.toThrow(/ERR_CONNECTION_REFUSED/);
  // It stays paired for when they are opened again.
  await doors.tap();
  await expect(page.getByText('that you pair can see and change your photos')).toBeVisible();
  await phone.goto(house.outside(ADDRESS));
  await expect(button(phone, 'Open dunes')).toBeVisible();
});

test('a phone is let in by a code, refused without one, and sent away at once @wide', async ({ page, browser }) => {
  const stranger = await newPhone(browser);
  await stranger.goto(house.outside(ADDRESS));
  await expect(stranger).toHaveURL(/\/pair$/);
  expect(await stranger.evaluate(async () => (await fetch('/api/photos')).status)).toBe(401);
  await pair(stranger, 'ABCDE-FGHJK-LMNPQ-RSTUV-WXYZ2-3', 'Stranger');
  await expect(stranger.getByRole('alert')).toContainText('This code is not known here.');

  await page.goto(house.address);
  await importTo(page, 'dunes.jpg');
  await button(page, en.phone.phone).click();
  const code = await page.getByLabel(en.phone.code, { exact: true }).innerText();
  await expect(page.getByRole('img', { name: `A code to scan: ${house.outside(ADDRESS)}/pair#${code}` })).toBeVisible();
  const phone = await newPhone(browser);
  await pair(phone, code, 'Phone of Ada');
  await expect(button(phone, 'Open dunes')).toBeVisible();
  // It is listed where the code was, which is used up.
  await expect(page.getByRole('group', { name: 'Phone of Ada' })).toBeVisible();
  await expect(button(page, en.phone.showACodeForAPhone)).toBeVisible();
  await pair(stranger, code, 'Stranger');
  await expect(stranger.getByRole('alert')).toContainText('This code was used already.');
  // A link that is opened on a paired device leads on.
  await phone.goto(`${house.outside(ADDRESS)}/pair`);
  await expect(button(phone, 'Open dunes')).toBeVisible();
  expect(await devices()).toEqual(['Phone of Ada']);

  await button(page, 'Send Phone of Ada away').click();
  await expect(phone.getByRole('alert')).toContainText(en.phone.thisDeviceIsNotPairedAny);
  await button(phone, en.phone.pairThisDevice).tap();
  await expect(phone).toHaveURL(/\/pair$/);
  expect(await devices()).toEqual([]);
});

test('a change on the phone is seen on the wide screen, and the other way round; at the same time both are kept @wide', async ({ page, browser }) => {
  await page.goto(house.address);
  await importTo(page, 'dunes.jpg');
  await button(page, 'Open dunes').click();
  await button(page, en.desk.chooseAFirstLayer).click();
  await button(page, /^Add Tone/).click();
  await kept(page);
  const phone = await pairedPhone(browser);
  await button(phone, 'Open dunes').tap();
  await button(phone, 'Open Tone').tap();
  const before = await shownPixels(page);
  await brightness(phone).press('PageUp');
  await expect(brightness(page)).toHaveAttribute('aria-valuetext', '10 %');
  await expect.poll(() => shownPixels(page)).not.toEqual(before);
  await brightness(page).press('PageUp');
  await expect(brightness(phone)).toHaveAttribute('aria-valuetext', '20 %');
  await kept(phone);
  expect(await brightnessNow()).toEqual([0.2]);
  // Unsent on the phone while the wide screen goes on.
  await phone.context().setOffline(true);
  await brightness(phone).press('PageDown');
  await brightness(phone).press('PageDown');
  await brightness(page).press('PageUp');
  await kept(page);
  await phone.context().setOffline(false);
  await expect(phone.getByRole('alert')).toContainText('was changed somewhere else. Both are kept');
  expect((await brightnessNow()).sort()).toEqual([0, 0.3]);
});

test('an upload that breaks goes on where it stopped, after a reload too; the same photo twice is one @phone', async ({ browser }) => {
  const phone = await pairedPhone(browser);
  let sent = 0;
  let cut = true;
  // The network breaks in the middle of a file, for good until it is mended.
  await phone.route('**/api/uploads/*', async (route) => {
    const { method, postDataBuffer: body } = { method: route.request().method(), postDataBuffer: route.request().postDataBuffer() };
    if (method !== 'PATCH' || !body) return route.continue();
    if (!cut) {
      sent += body.length;
      return route.continue();
    }
    if (sent > 0) return route.abort('connectionreset');
    sent = Math.floor(body.length / 3);
    await route.fetch({ postData: body.subarray(0, sent) });
    return route.abort('connectionreset');
  });
  const { size } = await fs.stat(demo('dunes.jpg'));
  await importTo(phone, 'dunes.jpg');
  await expect(phone.getByText('waits for the server')).toBeVisible();
  expect(sent).toBe(Math.floor(size / 3));
  const begun = await fs.readdir(path.join(house.data, 'uploads'));
  expect(begun).toHaveLength(2);
  // The system throws the page away, the network comes back.
  cut = false;
  await phone.reload();
  await expect(button(phone, 'Open dunes')).toBeVisible();
  expect(sent).toBe(size);
  await importTo(phone, 'dunes.jpg', 'gorge-falls.jpg');
  await expect(phone.getByText('was on the shelf already')).toBeVisible();
  await expect(button(phone, 'Open gorge-falls')).toBeVisible();
  expect(await photosNow()).toHaveLength(2);
  await expect.poll(() => fs.readdir(path.join(house.data, 'uploads'))).toEqual([]);
});

test('a page that is older than the server says so, keeps what was made, and is loaded anew when somebody asks for it @phone', async ({ page }) => {
  let older = true;
  const other = 'event: hello\ndata: {"page":"/_expo/another.js"}\n\n';
  await page.route('**/api/events', (route) => (older ? route.fulfill({ contentType: 'text/event-stream', body: other }) : route.continue()));
  await page.goto(house.address);
  await importTo(page, 'dunes.jpg');
  await button(page, 'Open dunes').tap();
  await button(page, /^Add Tone/).tap();
  await kept(page);
  await expect(page.getByText(/^Update available/)).toBeVisible();
  await page.route('**/bench/*', (route) => {
    older = false;
    return route.continue();
  });
  await button(page, en.phone.reload).tap();
  await expect(brightness(page)).toBeVisible();
  await expect(page.getByText(/^Update available/)).toBeHidden();
});

test('without the server the page opens with the last photos; work is kept here and sent later @phone @killed', async ({ browser }) => {
  const phone = await pairedPhone(browser, 'allow');
  await importTo(phone, 'workbench.jpg');
  await importTo(phone, 'dunes.jpg');
  await button(phone, 'Open dunes').tap();
  await button(phone, /^Add Tone/).tap();
  await kept(phone);
  const ready = () => phone.evaluate(async () => Boolean((await navigator.serviceWorker.ready).active && navigator.serviceWorker.controller));
  await expect.poll(ready).toBe(true);
  // What has been seen since somebody keeps it: the version as it is now, the shelf, and the photo.
  const keptHere = () =>
    phone.evaluate(async () =>
      (await Promise.all(['bexlen-data', 'bexlen-pixels'].map(async (name) => (await (await caches.open(name)).keys()).length))).join(),
    );
  await expect.poll(async () => (await keptHere()).split(',').every((count) => Number(count) >= 2)).toBe(true);
  await brightness(phone).press('PageUp');
  await kept(phone);
  const versionHere = () =>
    phone.evaluate(async () => {
      const answer = await caches.match(`/api/versions/${location.pathname.split('/').pop()}`);
      return answer ? ((await answer.json()) as { cursor: number }).cursor : -1;
    });
  await expect.poll(versionHere).toBe(2);
  const shelfHere = () =>
    phone.evaluate(async () => ((await (await caches.match('/api/photos'))?.json()) as { photos: unknown[] } | undefined)?.photos.length ?? 0);
  await expect.poll(shelfHere).toBe(2);
  await house.stop('SIGKILL');
  await phone.reload();
  await expect(phone.getByText('kept; server away')).toBeVisible();
  await expect(phone.getByRole('img', { name: 'dunes, as it is now' })).toBeVisible();
  await expect(brightness(phone)).toHaveAttribute('aria-valuetext', '10 %');
  const plain = await shownPixels(phone);
  await brightness(phone).press('PageUp');
  await expect.poll(() => shownPixels(phone)).not.toEqual(plain);
  await expect(phone.getByText('kept here; server away')).toBeVisible();
  await button(phone, en.bench.backToTheShelf).tap();
  await expect(phone.getByText(/^Offline/)).toBeVisible();
  await expect(button(phone, 'Open dunes')).toBeVisible();
  // A photo that is chosen now waits too.
  await importTo(phone, 'gorge-falls.jpg');
  await expect(phone.getByText('waits for the server')).toBeVisible();
  // One that was never opened here cannot be; it is once the server is back.
  await button(phone, 'Open workbench').tap();
  await expect(phone.getByText(/the page goes on by itself/)).toBeVisible();
  await house.start();
  await expect(phone.getByRole('img', { name: 'workbench, as it is now' })).toBeVisible();
  await button(phone, en.bench.backToTheShelf).tap();
  await expect(button(phone, 'Open gorge-falls')).toBeVisible();
  await expect(phone.getByText(/^Offline/)).toBeHidden();
  await expect.poll(async () => (await photosNow()).map(({ name }) => name).sort()).toEqual(['dunes', 'gorge-falls', 'workbench']);
  await expect
    .poll(async () => {
      const dunes = (await photosNow()).find(({ name }) => name === 'dunes');
      const version = await house.get<Version>(`/versions/${dunes?.versions[0]?.id}`);
      return version.steps[version.cursor]?.words;
    })
    .toBe('Tone: brightness 10 % → 20 %');
});
