import fs from 'node:fs/promises';
import v8 from 'node:v8';
import { MessageChannel, Worker, type MessagePort } from 'node:worker_threads';
import { BexlenError, control, newMemory, type FromHand, type Layout, type Stack, type StoreFormat, type ToHand } from '@bexlen/core';

/** Where the built worker and kernels lie. */
export interface EngineFiles {
  readonly hand: string;
  readonly kernels: string;
}

export interface Finished {
  readonly width: number;
  readonly height: number;
  /** In memory shared with the crew; holds until the crew is dismissed. */
  readonly pixels: Uint8Array;
}

const modules = new Map<string, Promise<WebAssembly.Module>>();

/** The kernels, compiled once, at full optimisation from the start: an export is too short to wait for the compiler to warm up. */
function compiled(file: string): Promise<WebAssembly.Module> {
  const known = modules.get(file);
  if (known) return known;
  v8.setFlagsFromString('--no-liftoff');
  const module = fs.readFile(file).then((bytes) => WebAssembly.compile(bytes));
  modules.set(file, module);
  return module;
}

/**
 * A crew of worker threads for one picture. It is dismissed with its memory when the picture is done, since WebAssembly memory never
 * shrinks.
 */
export class Crew {
  private words: Int32Array | undefined;
  private tiles = 1;
  private stopped = false;

  private constructor(
    private readonly workers: readonly Worker[],
    private readonly lead: Worker,
  ) {}

  static async hire(files: EngineFiles, parts: number): Promise<Crew> {
    const module = await compiled(files.kernels);
    const memory = newMemory(true);
    const workers = Array.from({ length: parts }, () => new Worker(files.hand, { execArgv: [] }));
    const [lead, ...others] = workers;
    if (!lead) throw new Error('a crew needs a hand');
    const helpers: MessagePort[] = others.map((worker, i) => {
      const { port1, port2 } = new MessageChannel();
      worker.postMessage({ type: 'assist', module, memory, part: i + 1, parts, lead: port1 } as unknown as ToHand, [port1]);
      return port2;
    });
    const crew = new Crew(workers, lead);
    const ready = crew.answer((message) => message.type === 'ready');
    lead.postMessage({ type: 'begin', module, memory, helpers } as unknown as ToHand, helpers);
    await ready;
    return crew;
  }

  /** Hands the photo over; its bytes are moved, not copied. */
  open(layout: Layout, pixels: Uint8Array): void {
    const whole = pixels.byteOffset === 0 && pixels.buffer.byteLength === pixels.byteLength;
    const bytes = whole ? pixels : new Uint8Array(pixels);
    this.lead.postMessage({ type: 'open', slot: 'photo', layout, bytes } satisfies ToHand, [bytes.buffer as ArrayBuffer]);
  }

  /** Makes the picture. Throws `cancelled` if it was stopped. */
  async render(stack: Stack, format: StoreFormat): Promise<Finished> {
    const answer = this.answer((message) => message.type === 'rendered' || message.type === 'stopped');
    this.lead.postMessage({ type: 'render', slot: 'photo', id: 1, stack, format } satisfies ToHand);
    const message = await answer;
    if (message.type !== 'rendered') throw new BexlenError('cancelled', 'The export was cancelled.', 'Start it again when you want it.');
    return { width: message.width, height: message.height, pixels: message.pixels };
  }

  /** Share of the tiles that are done, 0..1. */
  get progress(): number {
    return this.words ? Math.min(1, control.finishedTiles(this.words) / this.tiles) : 0;
  }

  stop(): void {
    this.stopped = true;
    if (this.words) control.stop(this.words);
  }

  async dismiss(): Promise<void> {
    await Promise.all(this.workers.map((worker) => worker.terminate()));
  }

  private answer(wanted: (message: FromHand) => boolean): Promise<FromHand> {
    return new Promise((resolve, reject) => {
      const done = (act: () => void): void => {
        this.lead.off('message', hear);
        act();
      };
      const hear = (message: FromHand): void => {
        if (message.type === 'begun') this.begun(message);
        if (message.type === 'failed') done(() => reject(new Error(message.message)));
        if (wanted(message)) done(() => resolve(message));
      };
      this.lead.on('message', hear);
      this.workers.forEach((worker) => worker.once('error', (error) => done(() => reject(error))));
    });
  }

  private begun({ control: words, tiles }: Extract<FromHand, { type: 'begun' }>): void {
    this.words = words;
    this.tiles = tiles;
    if (this.stopped) control.stop(words);
  }
}
