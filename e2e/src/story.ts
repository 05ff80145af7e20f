import { test as plain, type Browser, type BrowserContext, type Page } from '@playwright/test';
import type { ExportJob, KeptLook, PhoneState, Photo } from '@bexlen/api';
import { House } from './house';

/** Where phones find the house of a worker. */
export const ADDRESS = '127.0.0.2';

/** Screens of stories, by what their titles say. */
export const SCREENS = {
  '@phone': { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true, deviceScaleFactor: 1 },
  '@wide': { viewport: { width: 1280, height: 800 } },
};
type Screen = keyof typeof SCREENS;

/** A house in which stories are told one after the other, and a page for each screen: both have warmed up from the second on, as they have with who uses them. */
class Room {
  private readonly pages = new Map<Screen, Promise<Page>>();

  constructor(
    readonly house: House,
    private readonly browser: Browser,
  ) {}

  pageOf(title: string): Promise<Page> {
    const screen = title.includes('@wide') ? '@wide' : '@phone';
    let page = this.pages.get(screen);
    if (!page) this.pages.set(screen, (page = this.open(screen)));
    return page;
  }

  has(context: BrowserContext): Promise<boolean> {
    return Promise.all(this.pages.values()).then((pages) => pages.some((page) => page.context() === context));
  }

  private async open(screen: Screen): Promise<Page> {
    return (await this.browser.newContext({ ...SCREENS[screen], serviceWorkers: 'block' })).newPage();
  }
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

/** Stories with a house and a page that are theirs as long as they last, empty and as on the first day. `@wide` in its title gives a story a wide screen, `@killed` a house that is a process of its own. */
export const test = plain.extend<{ house: House }, { room: Room }>({
  room: [
    async ({ browser }, use) => {
      const house = await House.open(['--empty', '--at', ADDRESS]);
      await use(new Room(house, browser));
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
  context: async ({ room }, use, { title }) => use((await room.pageOf(title)).context()),
  // Named after the house: the page goes before that is emptied.
  page: async ({ room, house, browser }, use, { title }) => {
    const page = await room.pageOf(title);
    const context = page.context();
    await use(page);
    await page.unrouteAll({ behavior: 'ignoreErrors' });
    for (const other of browser.contexts()) if (!(await room.has(other))) await other.close();
    for (const other of context.pages()) if (other !== page) await other.close();
    const session = await context.newCDPSession(page);
    // Nothing of the program runs there, but what was read and compiled of it stays, as with every browser.
    await page.goto(`${room.house.address}/mark.svg`);
    await session.send('Storage.clearDataForOrigin', { origin: house.address, storageTypes: 'local_storage,indexeddb,cache_storage,cookies' });
    await session.detach();
  },
});
export { expect } from './expecting';
