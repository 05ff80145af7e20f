import fs from 'node:fs';
import path from 'node:path';
import { fill } from '../../test/engine';
import { fastKernels, layer, newEngine, resources, scene, stackOf } from '../../test/kernels';
import { newMemory } from '../pixels/kernels';
import type { Layout } from '../pixels/picture';
import { Engine, heapIn } from './engine';
import { startWorker, type FromWorker, type Slot, type ToWorker, type Wire } from './worker';
import type { Stack } from '../stack/schema';

const compiled = (name: string): Promise<WebAssembly.Module> =>
  WebAssembly.compile(fs.readFileSync(path.join(import.meta.dirname, '../../build', name)));
const modules = { shared: compiled('kernels.wasm'), own: compiled('kernels-alone.wasm') };
const beginning = async (shared: boolean): Promise<ToWorker> =>
  shared
    ? { type: 'begin', module: await modules.shared, memory: newMemory(true), helpers: [] }
    : { type: 'begin', module: await modules.own, helpers: [] };

/** A worker that works alone, in this thread, and what it says. */
class Alone {
  private readonly wire: Wire;
  private readonly said: FromWorker[] = [];
  private hear: () => void = () => undefined;

  constructor() {
    this.wire = { postMessage: (message) => (this.said.push(message as FromWorker), this.hear()), onmessage: null };
    startWorker(this.wire);
  }

  tell(message: ToWorker): void {
    this.wire.onmessage?.({ data: message as never });
  }

  /** What it answers. */
  async ask(message: ToWorker): Promise<FromWorker> {
    this.tell(message);
    for (;;) {
      const answer = this.said.shift();
      if (answer && answer.type !== 'begun') return answer;
      if (!answer) await new Promise<void>((resolve) => (this.hear = resolve));
    }
  }
}

const sizes: Record<Slot, Layout> = {
  photo: { width: 300, height: 240, depth: 16, channels: 3 },
  coarse: { width: 150, height: 120, depth: 8, channels: 3 },
  small: { width: 60, height: 48, depth: 8, channels: 4 },
  detail: { width: 430, height: 260, depth: 8, channels: 3 },
};
const slots = Object.keys(sizes) as Slot[];
const glow = (strength: number): Stack => stackOf(layer('levels', { midtone: 1.3 }), layer('blur', { radius: 0.02 }, { blend: 'overlay', strength }));

const bytesOf = ({ width, height, depth, channels }: Layout): Uint8Array => {
  const values = scene(width, height, channels);
  if (depth === 8) return Uint8Array.from(values, (v) => Math.round(v * 255));
  return new Uint8Array(Uint16Array.from(values, (v) => Math.round(v * 65535)).buffer);
};

async function made(layout: Layout, stack: Stack): Promise<Uint8Array> {
  const engine = await newEngine();
  const values = scene(layout.width, layout.height, layout.channels);
  fill(engine, layout, (i) => values[i] as number);
  return engine.render({ stack, format: 'rgba8' })?.pixels.slice() ?? new Uint8Array();
}

it('a second engine begins in a memory that has to grow for it', async () => {
  const memory = newMemory(true);
  const heap = heapIn(memory);
  // All but a few bytes are held.
  heap.acquire(memory.buffer.byteLength - 8192);
  const engine = new Engine(memory, await fastKernels(memory), 1, undefined, undefined, heap, resources);
  engine.open(sizes.coarse).set(bytesOf(sizes.coarse));
  const { pixels = new Uint8Array() } = engine.render({ stack: glow(0.5), format: 'rgba8' }) ?? {};
  expect(Buffer.compare(pixels, await made(sizes.coarse, glow(0.5)))).toBe(0);
});

describe.each([true, false])('a worker, in shared memory: %s', (shared) => {
  it('keeps photos of several sizes beside each other, and makes each as it would alone', async () => {
    const worker = new Alone();
    expect(await worker.ask(await beginning(shared))).toEqual({
      type: 'ready',
    });
    for (const slot of slots) worker.tell({ type: 'open', slot, layout: sizes[slot], bytes: bytesOf(sizes[slot]) });
    for (const strength of [0.4, 0.7])
      for (const slot of slots) {
        const said = await worker.ask({ type: 'render', slot, id: 7, stack: glow(strength), format: 'rgba8' });
        expect(said).toMatchObject({ type: 'rendered', id: 7, width: sizes[slot].width, height: sizes[slot].height });
        if (said.type === 'rendered') expect(Buffer.compare(said.pixels, await made(sizes[slot], glow(strength)))).toBe(0);
      }
  });

  it('leaves a picture where it is while the next one is made', async () => {
    const worker = new Alone();
    await worker.ask(await beginning(shared));
    worker.tell({ type: 'open', slot: 'photo', layout: sizes.photo, bytes: bytesOf(sizes.photo) });
    const order = (strength: number): ToWorker => ({ type: 'render', slot: 'photo', id: 1, stack: glow(strength), format: 'rgba8' });
    const first = await worker.ask(order(0.2));
    await worker.ask(order(0.9));
    expect(first.type === 'rendered' && Buffer.compare(first.pixels, await made(sizes.photo, glow(0.2)))).toBe(0);
  });

  it('says what it cannot do', async () => {
    const worker = new Alone();
    expect(await worker.ask({ type: 'render', slot: 'coarse', id: 3, stack: glow(1), format: 'screen' })).toMatchObject({ type: 'failed', id: 3 });
    await worker.ask(await beginning(shared));
    expect(await worker.ask({ type: 'render', slot: 'coarse', id: 4, stack: glow(1), format: 'screen' })).toMatchObject({ type: 'failed', id: 4 });
  });
});
