import fs from 'node:fs/promises';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { fingers, mouse } from './hands';
import { demo, demoWhole, House } from './house';
import { expect, test } from './story';
import { button, importAndOpen } from './treatment';
import { en } from './words';

let house: House;
test.beforeEach(({ house: mine }) => void (house = mine));

test('from the empty shelf to a shared file in six taps: whole, under its name, by the phone’s own sheet @phone', async ({ page }) => {
  const hands = await fingers(page);
  await page.goto(house.address);
  // Chromium has no such sheet here: what would be handed to it is looked at.
  await page.evaluate(() => {
    const shared: unknown[] = [];
    Object.assign(globalThis, { shared });
    Object.assign(navigator, {
      canShare: () => true,
      share: ({ files }: { files: File[] }) => {
        shared.push(...files.map(({ name, type, size }) => ({ name, type, size })));
        return Promise.resolve();
      },
    });
  });
  await expect(page.getByText('The shelf is empty')).toBeVisible();
  const before = hands.count();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), hands.tap(button(page, en.shelf.importPhotos))]);
  await chooser.setFiles(demo('dunes.jpg'));
  await expect(button(page, 'Open dunes')).toBeVisible();
  await hands.tap(page.getByRole('link', { name: en.controls.looks }));
  await hands.tap(button(page, 'Look Amber street'));
  await hands.tap(button(page, en.looks.putOnThisPhoto));
  await hands.tap(button(page, en.bench.export));
  await hands.tap(button(page, en.exports.makeAndShare));
  expect(hands.count() - before).toBe(6);
  await expect(button(page, en.exports.share)).toBeVisible();
  const { exports } = await house.get<{ exports: { bytes: number }[] }>('/exports');
  expect(await page.evaluate(() => (globalThis as unknown as { shared: unknown[] }).shared)).toContainEqual({
    name: 'dunes - Amber street.jpg',
    type: 'image/jpeg',
    size: exports[0]?.bytes,
  });
  // It stands in the list as any other, and can still be saved.
  await expect(button(page, 'Download dunes - Amber street.jpg')).toBeVisible();
});

test('a finished picture is copied where the device has no such sheet @wide', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const hands = mouse(page);
  await importAndOpen(house, page, hands, 'dunes', demoWhole);
  await hands.tap(button(page, en.bench.export));
  await page.getByRole('radio', { name: en.exports.longEdge }).click();
  await hands.tap(button(page, en.exports.makeTheFile));
  await hands.tap(button(page, /^Copy dunes/));
  await expect(page.getByText(en.exports.thePictureIsOnTheClipboard)).toBeVisible();
  const size = await page.evaluate(async () => {
    const [item] = await navigator.clipboard.read();
    const picture = await createImageBitmap((await item?.getType('image/png')) as Blob);
    return [picture.width, picture.height];
  });
  expect(Math.max(...size)).toBe(2048);
});

/** A page of somebody else that sends a form with a file to Bexlen as soon as it is opened. @param policy whether it says where it comes from. */
async function foreignPage(to: string, policy: string): Promise<{ address: string; server: http.Server }> {
  const server = http.createServer((_request, answer) => {
    answer.setHeader('Content-Type', 'text/html');
    answer.end(`<meta name="referrer" content="${policy}">
      <form method="post" enctype="multipart/form-data" action="${to}/received"><input type="file" name="photos"></form>
      <script>
        const carrier = new DataTransfer();
        carrier.items.add(new File(['x'], 'foreign.jpg', { type: 'image/jpeg' }));
        document.querySelector('input').files = carrier.files;
        document.querySelector('form').submit();
      </script>`);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  return { address: `http://127.0.0.1:${port}`, server };
}

test('photos that another program hands over lie on the shelf, also while the server is away @phone', async ({ browser }) => {
  const page = await (await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, serviceWorkers: 'allow' })).newPage();
  await page.goto(house.address);
  await expect(page.getByText('The shelf is empty')).toBeVisible();
  const ready = () => page.evaluate(async () => Boolean((await navigator.serviceWorker.ready).active && navigator.serviceWorker.controller));
  await expect.poll(ready).toBe(true);
  const manifest = (await (await page.request.get(`${house.address}/manifest.webmanifest`)).json()) as {
    share_target: { action: string; params: { files: { name: string }[] } };
  };
  // What a page of somebody else sends is not taken by itself, whether it says where it comes from or not.
  const [said, silent] = [await foreignPage(house.address, 'unsafe-url'), await foreignPage(house.address, 'no-referrer')];
  await page.goto(said.address);
  await expect(page.getByText('The shelf is empty')).toBeVisible();
  await page.goto(silent.address);
  await expect(page.getByText(en.shelf.onePhotoHandedOver)).toBeVisible();
  await button(page, en.shelf.discard).tap();
  await page.reload();
  await expect(page.getByText('The shelf is empty')).toBeVisible();
  await expect(page.getByText(en.shelf.onePhotoHandedOver)).toBeHidden();
  expect((await house.get<{ photos: unknown[] }>('/photos')).photos).toEqual([]);
  said.server.close();
  silent.server.close();
  await house.stop();
  const bytes = [...(await fs.readFile(demo('dunes.jpg')))];
  // The system sends a form to where the page says, and opens the shelf, to which that is answered.
  await page.evaluate(
    async ({ action, field, content }) => {
      const form = new FormData();
      form.append(field, new File([new Uint8Array(content)], 'from afar.jpg', { type: 'image/jpeg' }));
      await fetch(action, { method: 'POST', body: form });
    },
    { action: manifest.share_target.action, field: manifest.share_target.params.files[0]?.name ?? '', content: bytes },
  );
  await page.goto(house.address);
  await button(page, en.shelf.takeIn).tap();
  await expect(page.getByText('from afar.jpg')).toBeVisible();
  await house.start();
  await expect(button(page, 'Open from afar')).toBeVisible();
  await page.context().close();
});
