import fs from 'node:fs/promises';
import path from 'node:path';
import { Engine, instantiate, newMemory } from '@bexlen/core/engine';
import { emptyStack, kindOf, kinds, modes, newLayer, type KindLayer, type Stack } from '@bexlen/core';
import { expect, test } from './story';

const root = path.resolve(import.meta.dirname, '../..');
const [width, height] = [96, 64];
const pixels = Uint8Array.from({ length: width * height * 3 }, (_, i) => 128 + 90 * Math.sin(i / 37) + 30 * Math.sin(i / 3.1));

/** Every kind as the rack shows it, and every blend mode. */
const stacks: Stack[] = [
  ...kinds.map(({ id }) => {
    const layer = newLayer(id, 'l1') as KindLayer;
    const params = { ...layer.params, ...kindOf(id).shown } as KindLayer['params'];
    return { ...emptyStack, layers: [{ ...layer, params, strength: 0.8 }] };
  }),
  ...modes.map(({ id }) => ({ ...emptyStack, layers: [{ ...newLayer('blur', 'l1'), blend: id }] })),
];

/** What is done inside the page: the page's own workers, as they are served. It brings nothing along but its argument. */
async function inThePage({
  built,
  list,
  bytes,
  size,
}: {
  built: { worker: string; kernels: string };
  list: unknown[];
  bytes: number[];
  size: number[];
}): Promise<string[]> {
  const module = await WebAssembly.compileStreaming(fetch(built.kernels));
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 65536, shared: true });
  const [lead, helper] = [0, 1].map(() => new Worker(built.worker, { type: 'module' })) as [Worker, Worker];
  const { port1, port2 } = new MessageChannel();
  helper.postMessage({ type: 'assist', module, memory, part: 1, parts: 2, lead: port1 }, [port1]);
  const answer = (type: string) =>
    new Promise<{ pixels: Uint8Array }>((resolve, reject) => {
      lead.onmessage = ({ data }) => (data.type === type ? resolve(data) : data.type === 'failed' && reject(new Error(data.message)));
    });
  const ready = answer('ready');
  lead.postMessage({ type: 'begin', module, memory, helpers: [port2] }, [port2]);
  await ready;
  const layout = { width: size[0], height: size[1], depth: 8, channels: 3 };
  lead.postMessage({ type: 'open', slot: 'photo', layout, bytes: Uint8Array.from(bytes) });
  // As text, which goes out of a page in one piece; numbers go one by one.
  const made: string[] = [];
  for (const [id, stack] of list.entries()) {
    const rendered = answer('rendered');
    lead.postMessage({ type: 'render', slot: 'photo', id, stack, format: 'float' });
    made.push(btoa((await rendered).pixels.reduce((text, byte) => text + String.fromCharCode(byte), '')));
  }
  [lead, helper].forEach((worker) => worker.terminate());
  return made;
}

test('the page’s workers make what the server makes, for every kind and every mode @wide', async ({ page, house }) => {
  await page.addInitScript('globalThis.__name = (f) => f');
  await page.goto(house.address);
  const built = JSON.parse(await fs.readFile(path.join(root, 'app/src/engine/built.json'), 'utf8')) as { worker: string; kernels: string };
  const made = await page.evaluate(inThePage, { built, list: stacks, bytes: [...pixels], size: [width, height] });
  const memory = newMemory(true);
  const engine = new Engine(
    memory,
    await instantiate(await WebAssembly.compile(await fs.readFile(path.join(root, 'build/kernels.wasm'))), memory),
    1,
  );
  engine.open({ width, height, depth: 8, channels: 3 }).set(pixels);
  const untouched = Float32Array.from(pixels, (v) => v / 255);
  let changed = 0;
  stacks.forEach((stack, i) => {
    const here = new Float32Array(engine.render({ stack, format: 'float' })?.pixels.slice().buffer ?? new ArrayBuffer(0));
    const there = new Float32Array(Uint8Array.from(Buffer.from(made[i] ?? '', 'base64')).buffer);
    expect(there.length).toBe(here.length);
    const most = here.reduce((worst, v, k) => Math.max(worst, Math.abs(v - (there[k] as number))), 0);
    expect(most, JSON.stringify(stack.layers[0])).toBeLessThanOrEqual(1e-6);
    if (here.some((v, k) => k % 4 < 3 && Math.abs(v - (untouched[(k >> 2) * 3 + (k % 4)] as number)) > 0.002)) changed++;
  });
  // All do something to this picture but a table that has no file, light by hand without a stroke, a picture without a photo, a brush under half a pixel wide, and a
  // blur in Outdo, which keeps what is no further off than twice.
  expect(changed).toBeGreaterThanOrEqual(stacks.length - 5);
});
