import { chromium } from 'playwright';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--headless','--no-sandbox','--disable-gpu','--disable-quic'] });
const ctx = await b.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true, deviceScaleFactor: 1 });
const page = await ctx.newPage();
page.on('pageerror', (m) => console.log('E', m.message));
await page.goto('http://127.0.0.1:4810/');
const start = async (photo: string, kind: string) => {
  await page.goto('http://127.0.0.1:4810/');
  await page.getByRole('button', { name: new RegExp('^Open .*' + photo, 'i') }).first().click();
  await page.waitForTimeout(2500);
  const add = page.getByRole('button', { name: /^(Add a layer|Choose a first layer)/ }).first();
  if (await add.isVisible()) { await add.click(); await page.waitForTimeout(800); }
  await page.getByRole('button', { name: new RegExp('^Add ' + kind + ' ') }).first().click();
  await page.waitForTimeout(2500);
};
await page.waitForTimeout(2000);
console.log(await page.getByRole('button', { name: /^Open / }).evaluateAll((a) => a.map((x) => x.getAttribute('aria-label'))));
await start(process.argv[2], process.argv[3]);
await page.screenshot({ path: '/tmp/l1.png' });
const cdp = await ctx.newCDPSession(page);
await page.waitForTimeout(300);
const down = async (x: number, y: number) => cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [{ x, y }] });
const move = async (x: number, y: number) => cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: [{ x, y }] });
const up = async () => cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
await down(195, 250); for (let i = 0; i < 10; i++) { await move(195, 250 + i * 3); await page.waitForTimeout(30); }
await page.waitForTimeout(900);
await page.screenshot({ path: '/tmp/l2.png' });
await up();
await page.waitForTimeout(1500);
await page.screenshot({ path: '/tmp/l3.png' });
await b.close();
