import fs from 'node:fs';
import puppeteer from 'puppeteer-core';
import { PHONE, type Driver } from './driver';

const BROWSER = '/usr/bin/firefox-esr';
export const hasFirefox = (): boolean => fs.existsSync(BROWSER);

/** Firefox as Debian has it (firefox-esr). @param shared whether the page may share memory between its workers. */
export async function firefox(shared: boolean): Promise<Driver> {
  const browser = await puppeteer.launch({
    browser: 'firefox',
    executablePath: BROWSER,
    headless: true,
    ...(!shared && { extraPrefsFirefox: { 'dom.postMessage.sharedArrayBuffer.withCOOP_COEP': false } }),
  });
  const page = await browser.newPage();
  await page.setViewport(PHONE);
  return {
    name: `Firefox ${shared ? 'with' : 'without'} shared memory`,
    goto: async (url) => void (await page.goto(url)),
    evaluate: (body) => page.evaluate(`(async () => { ${body} })()`) as never,
    drag: async ([x, y], ...more) => {
      await page.mouse.move(x, y);
      await page.mouse.down();
      for (const [mx, my] of more) await page.mouse.move(mx, my, { steps: 3 });
      await page.mouse.up();
    },
    shot: async (file) => void (await page.screenshot({ path: file as `${string}.png` })),
    close: () => browser.close(),
  };
}
