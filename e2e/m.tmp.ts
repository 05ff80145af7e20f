import { chromium } from '@playwright/test';
import { execSync } from 'node:child_process';
import fs from 'node:fs';
const at = 'http://127.0.0.1:4812';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--headless', '--no-sandbox', '--disable-gpu', '--disable-quic'] });
const ctx = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true, deviceScaleFactor: Number(process.env.DPR ?? 3) });
const page = await ctx.newPage();
const cdp = await (await browser.newBrowserCDPSession());
const pss = async () => {
  const { processInfo } = (await cdp.send('SystemInfo.getProcessInfo')) as { processInfo: { type: string; id: number }[] };
  return processInfo.filter((p) => p.type === 'renderer').map((p) => { const t = fs.readFileSync(`/proc/${p.id}/smaps_rollup`, 'utf8'); const g = (n: string) => Math.round(Number(new RegExp(`^${n}:\\s+(\\d+)`, 'm').exec(t)?.[1]) / 1024); const peak = Math.round(Number(/VmHWM:\s+(\d+)/.exec(fs.readFileSync(`/proc/${p.id}/status`, 'utf8'))?.[1]) / 1024); return { pss: g('Pss'), priv: g('Private_Dirty') + g('Private_Clean'), shmem: g('Pss_Shmem'), peak }; });
};
const told = async (w: string) => { const m = await page.evaluate(async () => { try { return Math.round((await (performance as unknown as { measureUserAgentSpecificMemory: () => Promise<{ bytes: number }> }).measureUserAgentSpecificMemory()).bytes / 1e6); } catch (e) { return String(e); } }); console.log(w, JSON.stringify(await pss()), 'UA', m, 'MB'); };
await page.goto(at); await page.waitForTimeout(1500);
if (await page.getByRole('button', { name: 'Open big24' }).count() === 0) { await page.getByLabel('Photos to import').setInputFiles('/tmp/big24.jpg'); await page.getByRole('button', { name: 'Open big24' }).waitFor({ timeout: 30000 }); }
await told('shelf');
await page.getByRole('button', { name: 'Open big24' }).tap(); await page.waitForTimeout(4000); await told('bench');
const add = async (tab: string, k: string) => { await page.getByRole('tab', { name: tab }).or(page.getByRole('radio', { name: tab })).first().tap().catch(() => undefined); await page.getByRole('button', { name: new RegExp(`^Add ${k}`) }).first().tap(); await page.waitForTimeout(2500); };
await page.getByRole('button', { name: /^Add Tone/ }).first().tap(); await page.waitForTimeout(2500); await told('tone');
for (let i = 0; i < 10; i++) { await page.getByRole('slider', { name: 'Brightness of Tone' }).press('PageUp'); }
await page.waitForTimeout(1500); await told('dragged');
await page.getByRole('button', { name: 'Zoom in' }).tap(); await page.waitForTimeout(5000); await told('zoomed');
console.log(await page.evaluate(() => [...document.querySelectorAll('canvas')].map((c) => [c.width, c.height])));
await browser.close();
