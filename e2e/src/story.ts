import { test as plain, type BrowserContext, type Page } from '@playwright/test';
import type { ExportJob, KeptLook, PhoneState, Photo } from '@bexlen/api';
import { House } from './house';

/** Where phones find the house of a worker. */
export const ADDRESS = '127.0.0.2';

/** A page and a house in which stories are told one after the other: both have warmed up from the second on, as they have with who uses them. */
interface Room {
  readonly house: House;
  readonly context: BrowserContext;
  readonly page: Page;
}

const send = async (house: House, method: 'POST' | 'PATCH' | 'DELETE', where: string, body?: unknown): Promise<void> => {
  const json = { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) };
  const answer = await fetch(`${house.address}/api${where}`, { method, ...(body !== undefined && json) });
  if (!answer.ok) throw new Error(`${method} ${where}: ${await answer.text()}`);
};

/** Takes everything away that a story has left behind. */
async function emptied(house: House): Promise<void> {
  const { exports } = await house.get<{ exports: ExportJob[] }>('/exports');
  for (const { id } of exports) await send(house, 'DELETE', `/exports/${id}`);
  for (const bin of ['', '?bin=1']) {
    const { photos } = await house.get<{ photos: Photo[] }>(`/photos${bin}`);
    for (const { id } of photos) {
      await send(house, 'PATCH', `/photos/${id}`, { binned: true });
      await send(house, 'DELETE', `/photos/${id}?anyway=1`);
    }
  }
  const { looks } = await house.get<{ looks: KeptLook[] }>('/looks');
  for (const { id } of looks.filter(({ own }) => own)) await send(house, 'DELETE', `/looks/${id}`);
  for (const what of ['rolls', 'presets'] as const) {
    const all = (await house.get<Record<string, { id: string }[]>>(`/${what}`))[what] ?? [];
    for (const { id } of all) await send(house, 'DELETE', `/${what}/${id}`);
  }
  const { devices } = await house.get<PhoneState>('/phone');
  for (const { id } of devices) await send(house, 'DELETE', `/phone/devices/${id}`);
}

/** Stories with a house and a page that are theirs as long as they last, empty and as on the first day. `@killed` in its title gives a story a house that is a process of its own. */
export const test = plain.extend<{ house: House }, { room: Room }>({
  room: [
    async ({ browser }, use, { project }) => {
      const house = await House.open(['--empty', '--at', ADDRESS]);
      const { viewport, hasTouch, isMobile, deviceScaleFactor, serviceWorkers } = project.use;
      const sizes = { viewport, hasTouch, isMobile, deviceScaleFactor, serviceWorkers };
      const context = await browser.newContext(Object.fromEntries(Object.entries(sizes).filter(([, value]) => value !== undefined)));
      await use({ house, context, page: await context.newPage() });
      await context.close();
      await house.close();
    },
    { scope: 'worker' },
  ],
  house: async ({ room }, use, { title }) => {
    if (title.includes('@killed')) {
      const own = await House.open(['--empty', '--at', ADDRESS], {}, 'alone');
      await use(own);
      await own.close();
    } else {
      await use(room.house);
      await emptied(room.house);
    }
  },
  context: ({ room }, use) => use(room.context),
  // Named after the house: the page goes before that is emptied.
  page: async ({ room, house, browser }, use) => {
    const { context, page } = room;
    await use(page);
    await page.unrouteAll({ behavior: 'ignoreErrors' });
    for (const other of browser.contexts()) if (other !== context) await other.close();
    for (const other of context.pages()) if (other !== page) await other.close();
    const session = await context.newCDPSession(page);
    // What it has read of the program stays, as with every browser.
    await page.goto(`${room.house.address}/mark.svg`);
    await session.send('Storage.clearDataForOrigin', { origin: house.address, storageTypes: 'local_storage,indexeddb,cache_storage,cookies' });
    await session.detach();
  },
});
export { expect } from '@playwright/test';
