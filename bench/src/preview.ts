import { spawn } from 'node:child_process';
import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { chromium } from '@playwright/test';
import { emptyMask, newPart, type Stack } from '@bexlen/core';
import { previewInThePage } from './page';
import { report, timesOf } from './timing';
import { layer, orton, stackOf } from './work';

const root = path.resolve(import.meta.dirname, '../..');
/** Chromium as it is started everywhere here. */
export const CHROMIUM = [
  '--headless',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** A server of its own with an empty shelf. */
export async function serve(): Promise<{ readonly address: string; readonly end: () => Promise<void> }> {
  const data = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  const server = spawn(process.execPath, ['build/server.mjs', '--port', '0', '--data', data, '--empty'], { cwd: root });
  const address = await new Promise<string>((resolve) =>
    server.stdout.on('data', (text: Buffer) => {
      const [, at] = /at (http:\S+)/.exec(String(text)) ?? [];
      if (at) resolve(at);
    }),
  );
  const end = async (): Promise<void> => {
    server.kill();
    await new Promise((resolve) => server.once('exit', resolve));
    await fs.rm(data, { recursive: true });
  };
  return { address, end };
}

/** Frames that follow each other. The browser compiles what runs often once more, in the first dozen: so many runs do not count. */
const RUN = 5;
const WARM = 3;

/** Light that spreads, grain and edges, the first and the last through masks. */
const hazy = (i: number): Stack => {
  const mask = { ...emptyMask, parts: [newPart('oval', 'a')] };
  const glow = layer('glow', { mask, params: { strength: 0.4 + i * 1e-6 } });
  return stackOf(glow, layer('grain'), layer('vignette', { mask: { ...mask, inverted: true } }));
};

/** The Orton preview and another at 1.5 megapixels in the page's workers, against the page's own 2D canvas doing the same. */
export async function benchPreview(rounds: number): Promise<void> {
  const server = await serve();
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM });
  try {
    const page = await browser.newPage();
    // The runner marks functions with a helper of its own, which the page does not have.
    await page.addInitScript('globalThis.__name = (f) => f');
    await page.goto(server.address);
    const built = JSON.parse(await fs.readFile(path.join(root, 'app/src/engine/built.json'), 'utf8')) as { worker: string; kernels: string };
    for (const hands of [1, 2]) {
      for (const [name, stackAt, target] of [
        ['Orton preview', (i: number) => orton(8 * (1 + i * 1e-6), 1536, i * 1e-7), hands === 1 ? 0.5 : 0.3],
        ['Glow, grain, vignette, masked', hazy, 1],
      ] as const) {
        // A little different in every round, so that nothing kept from the last one counts.
        const stacks = Array.from({ length: RUN * (rounds + WARM) }, (_, i) => stackAt(i));
        const { ours, canvas } = await page.evaluate(previewInThePage, { built, hands, stacks, run: RUN, warm: WARM });
        report(`${name}, 1.5 MP, ${hands} worker${hands > 1 ? 's' : ''}, 2D canvas`, timesOf(ours), timesOf(canvas), target, 1.57);
      }
    }
  } finally {
    await browser.close();
    await server.end();
  }
}
