import { chromium, type Browser, type Page } from '@playwright/test';
import { House } from '../../e2e/src/house';
import { CHROMIUM } from './preview';
import { report, timesOf } from './timing';

const PHONE = { width: 390, height: 844 };
/** How many times slower than this machine a phone is taken to be. */
const SLOWER = 4;

/** A browser that has never been here, on a slow phone. */
async function fresh<T>(browser: Browser, act: (page: Page) => Promise<T>): Promise<T> {
  const context = await browser.newContext({ viewport: PHONE, hasTouch: true, isMobile: true });
  try {
    const page = await context.newPage();
    await (await context.newCDPSession(page)).send('Emulation.setCPUThrottlingRate', { rate: SLOWER });
    return await act(page);
  } finally {
    await context.close();
  }
}

async function timed(act: () => Promise<unknown>): Promise<number> {
  const start = performance.now();
  await act();
  return performance.now() - start;
}

/** The pictures in sight, all of them drawn. */
const pictures = async (page: Page): Promise<string[]> => {
  const seen = await page.waitForFunction(() => {
    const all = [...document.images].filter((it) => it.getBoundingClientRect().top < innerHeight);
    return all.length >= 4 && all.every((it) => it.complete && it.naturalWidth > 0) && all.map((it) => it.src);
  });
  return seen.jsonValue() as Promise<string[]>;
};

/** From an address to the shelf, and from a tap to the photo, by a browser that has nothing of the page yet; beside it the same pictures in a page that has no program. */
export async function benchFirst(rounds: number): Promise<void> {
  const house = await House.open([], {}, 'alone');
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM });
  try {
    const [shelf, photo, plain]: [number[], number[], number[]] = [[], [], []];
    let seen: readonly string[] = [];
    for (let round = 0; round <= rounds; round++) {
      const [first, second] = await fresh(browser, async (page) => [
        await timed(async () => {
          await page.goto(house.address);
          seen = await pictures(page);
        }),
        await timed(async () => {
          await page
            .getByRole('button', { name: /^Open / })
            .first()
            .tap();
          await page.waitForFunction(() =>
            [...document.querySelectorAll('canvas')].some(({ width, style }) => width > 600 && style.visibility === 'visible'),
          );
        }),
      ]);
      const body = seen.map((src) => `<img src="${src}" style="width:45%">`).join('');
      const third = await fresh(browser, async (page) => {
        await page.route(`${house.address}/plain`, (route) => route.fulfill({ contentType: 'text/html', body }));
        return timed(async () => {
          await page.goto(`${house.address}/plain`);
          await pictures(page);
        });
      });
      if (round === 0) continue;
      shelf.push(first);
      photo.push(second);
      plain.push(third);
    }
    report('the shelf, beside its pictures without a program', timesOf(shelf), timesOf(plain), undefined);
    report('from a tap to the photo, beside the same', timesOf(photo), timesOf(plain), undefined);
  } finally {
    await browser.close();
    await house.close();
  }
}
