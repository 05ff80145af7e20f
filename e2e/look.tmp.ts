import { chromium, type Page } from '@playwright/test';
export const open = async (wide = false) => {
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--headless', '--no-sandbox', '--disable-gpu', '--disable-quic', '--ignore-certificate-errors'] });
  const page = await browser.newPage(wide ? { viewport: { width: 1280, height: 800 } } : { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true, deviceScaleFactor: 2 });
  page.on('console', (m) => m.type() === 'error' && console.log('console', m.text()));
  page.on('pageerror', (e) => console.log('pageerror', e.message));
  return { browser, page };
};
export const at = 'http://127.0.0.1:4811';
export const b = (page: Page, name: string | RegExp) => page.getByRole('button', { name }).first();
