import fs from 'node:fs/promises';
import { chromium, type Page } from '@playwright/test';
import { emptyMask, newPart, type Stack } from '@bexlen/core';
import { upload } from '../../server/test/upload';
import { CHROMIUM, serve } from './preview';
import { report, timesOf } from './timing';
import { layer, photo, stackOf } from './work';

const MOVES = 60;

/** Six layers, of which the third is painted. */
const stack = (): Stack =>
  stackOf(
    layer('tone'),
    layer('saturation'),
    layer('exposure', { mask: { ...emptyMask, parts: [newPart('brush', 'b')] } }),
    layer('curves'),
    layer('white-balance'),
    layer('grain'),
  );

interface Seen {
  readonly ours: number[];
  readonly canvas: number[];
}

/** From a pointer event to new pixels on the canvas, on the real bench; beside it the 2D canvas painting the same disc. */
export async function benchBrush(rounds: number): Promise<void> {
  const server = await serve();
  const { address } = server;
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM });
  try {
    const imported = (await upload(address, await fs.readFile(photo), 'photo.jpg')).body['photo'] as unknown as { id: string };
    const body = JSON.stringify({ name: 'Bench', cursor: 0, steps: [{ words: 'As it came', stack: stack() }] });
    const made = await fetch(`${address}/api/photos/${imported.id}/versions`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body,
    });
    const version = (await made.json()) as { id: string };
    const page = await browser.newPage({ viewport: { width: 760, height: 700 }, deviceScaleFactor: 2 });
    await page.addInitScript('globalThis.__name = (f) => f');
    await page.goto(`${address}/bench/${version.id}`);
    await page.getByRole('button', { name: 'Open Exposure' }).click();
    await page.getByRole('radio', { name: /^Where$/ }).click();
    await page.getByRole('button', { name: /^Part: .*brush/ }).click();
    await page.waitForTimeout(1500);
    const seen: Seen = { ours: [], canvas: [] };
    for (let i = 0; i < rounds + 1; i++) {
      const { ours, canvas } = await stroke(page, i);
      // The first one warms up.
      if (i === 0) continue;
      seen.ours.push(...ours);
      seen.canvas.push(...canvas);
    }
    report('brush, 1.5 MP, 6 layers, pointer to pixels, a disc', timesOf(seen.ours), timesOf(seen.canvas), undefined);
    console.log(`  from the pointer to pixels: ${timesOf(seen.ours).median.toFixed(1)} ms in the middle of ${seen.ours.length} (aimed at 33)`);
  } finally {
    await browser.close();
    await server.end();
  }
}

/** One stroke across the photo, watched from inside the page. */
async function stroke(page: Page, i: number): Promise<Seen> {
  await page.evaluate(watchInThePage);
  const box = await page.getByRole('img', { name: /as it is now/ }).boundingBox();
  if (!box) throw new Error('the photo is not on the page');
  await page.mouse.move(box.x + 40, box.y + 40 + 8 * i);
  await page.mouse.down();
  for (let k = 1; k <= MOVES; k++) {
    await page.mouse.move(box.x + 40 + ((box.width - 80) * k) / MOVES, box.y + 60 + 8 * i + 30 * Math.sin(k / 6));
    await page.waitForTimeout(16);
  }
  await page.mouse.up();
  await page.waitForTimeout(700);
  return page.evaluate(() => (globalThis as unknown as { seen: Seen }).seen);
}

/** What is measured inside the page. It brings nothing along, since it is sent there as text. */
function watchInThePage(): void {
  const canvas = document.querySelector('canvas') as HTMLCanvasElement;
  const context = canvas.getContext('2d') as CanvasRenderingContext2D & { plain?: CanvasRenderingContext2D['putImageData'] };
  const seen = { ours: [] as number[], canvas: [] as number[] };
  Object.assign(globalThis, { seen });
  const waiting: number[] = [];
  const other = Object.assign(document.createElement('canvas'), { width: canvas.width, height: canvas.height }).getContext(
    '2d',
  ) as CanvasRenderingContext2D;
  context.plain ??= context.putImageData.bind(context) as CanvasRenderingContext2D['putImageData'];
  const { plain } = context;
  const disc = (x: number, y: number, r: number): void => {
    const start = performance.now();
    const soft = other.createRadialGradient(x, y, 0.4 * r, x, y, r);
    soft.addColorStop(0, 'rgba(255,255,255,0.6)');
    soft.addColorStop(1, 'rgba(255,255,255,0)');
    other.fillStyle = soft;
    other.fillRect(x - r, y - r, 2 * r, 2 * r);
    // It is painted when it is asked for.
    other.getImageData(x, y, 1, 1);
    seen.canvas.push(performance.now() - start);
  };
  context.putImageData = ((image: ImageData, x: number, y: number) => {
    (plain as (image: ImageData, x: number, y: number) => void)(image, x, y);
    const first = waiting.shift();
    if (image.width < canvas.width && first !== undefined) {
      seen.ours.push(performance.now() - first);
      waiting.length = 0;
      disc(x + image.width / 2, y + image.height / 2, 0.04 * canvas.width);
    }
  }) as CanvasRenderingContext2D['putImageData'];
  if (!Object.hasOwn(globalThis, 'watching'))
    addEventListener(
      'pointermove',
      (event) => event.buttons === 1 && (globalThis as unknown as { waiting: number[] }).waiting.push(performance.now()),
      true,
    );
  Object.assign(globalThis, { watching: true, waiting });
}
