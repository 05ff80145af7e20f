import fs from 'node:fs/promises';
import v8 from 'node:v8';
import { MessageChannel, Worker, type MessagePort } from 'node:worker_threads';
import { BexlenError, type Gamut, type Shape, type Stack } from '@bexlen/core';
import { control, newMemory, type FromWorker, startPool, type StoreFormat, type ToWorker } from '@bexlen/core/engine';
import type { Coming } from '../decode/decode';

/** Where the built worker and kernels lie. */
export interface EngineFiles {
  readonly worker: string;
  readonly kernels: string;
}

export interface Finished {
  readonly width: number;
  readonly height: number;
  /** In memory shared with the pool; holds until its next order. */
  readonly pixels: Uint8Array;
}

/** Bands of rows that are told of as they are finished, in any order. */
export interface Bands {
  readonly rows: number;
  /** `pixels` is the whole picture, in which this band is finished. */
  readonly done: (band: number, pixels: Uint8Array) => void;
}

/** How a picture is wanted. */
export interface RenderWish {
  readonly gamut?: Gamut;
  readonly bands?: Bands;
  /** The mask of a layer, as greys, instead of the picture. */
  readonly mask?: string;
}

const modules = new Map<string, Promise<WebAssembly.Module>>();

/** Compiled at full optimisation from the start; whatever else is compiled in this process later is not. */
async function atOnce(file: string): Promise<WebAssembly.Module> {
  const bytes = await fs.readFile(file);
  v8.setFlagsFromString('--no-liftoff');
  try {
    return await WebAssembly.compile(bytes);
  } finally {
    v8.setFlagsFromString('--liftoff');
  }
}

/** The kernels, compiled once, at full optimisation from the start: an export is too short to wait for the compiler to warm up. */
function compiled(file: string): Promise<WebAssembly.Module> {
  const known = modules.get(file);
  if (known) return known;
  const module = atOnce(file);
  modules.set(file, module);
  return module;
}

/** A pool of worker threads, for one picture after another. Its memory grows to the largest of them, and goes when it is dismissed. */
export class Pool {
  private words: Int32Array | undefined;
  private tiles = 1;
  private height = 0;
  private stopped = false;
  private broken = false;
  private breaking: ((error: unknown) => void) | undefined;

  private constructor(
    private readonly workers: readonly Worker[],
    private readonly lead: Worker,
    private readonly memory: WebAssembly.Memory,
  ) {
    workers.forEach((worker) => worker.on('error', () => (this.broken = true)));
  }

  /** Whether all hands are well. */
  get fit(): boolean {
    return !this.broken;
  }

  static async hire(files: EngineFiles, parts: number, niceness = 0): Promise<Pool> {
    const module = await compiled(files.kernels);
    const memory = newMemory(true);
    const workers = Array.from({ length: parts }, () => new Worker(files.worker, { execArgv: [], workerData: { niceness } }));
    const [lead] = workers;
    if (!lead) throw new Error('a pool needs a hand');
    const pool = new Pool(workers, lead, memory);
    const ready = pool.answer((message) => message.type === 'ready');
    startPool<MessagePort>(workers, { module, memory }, () => new MessageChannel());
    await ready;
    return pool;
  }

  /** Hands a photo over, which is written into the pool's memory. */
  async open({ layout, into }: Coming): Promise<void> {
    this.words = undefined;
    this.stopped = false;
    this.height = layout.height;
    const answer = this.answer((message) => message.type === 'room');
    this.lead.postMessage({ type: 'room', layout } satisfies ToWorker);
    const message = await answer;
    if (message.type === 'room') await into(message.bytes);
  }

  /** Gives it what a stack names: a colour table, strokes, another photo; or the proxy of its photo. */
  provide(thing: Extract<ToWorker, { type: 'cube' | 'strokes' | 'proxy' | 'picture' | 'forget' }>): void {
    this.lead.postMessage(thing);
  }

  /** Makes the picture that the first layer reads; the photo's own bytes are let go. */
  shape(shape: Shape): void {
    this.height = shape.layout.height;
    this.lead.postMessage({ type: 'shape', slot: 'photo', shape, spend: true } satisfies ToWorker);
  }

  /** Makes the picture, in the place of the photo where that can be: it has to be opened again for the next one. Throws `cancelled` if it was stopped. */
  async render(stack: Stack, format: StoreFormat, { gamut = 'srgb', bands, mask }: RenderWish = {}): Promise<Finished> {
    const answer = this.answer((message) => message.type === 'rendered' || message.type === 'stopped');
    const told = bands && this.follow(bands);
    this.lead.postMessage({
      type: 'render',
      slot: 'photo',
      id: 1,
      stack,
      format,
      gamut,
      spend: true,
      ...(mask !== undefined && { mask }),
      ...(bands && { band: bands.rows }),
    } satisfies ToWorker);
    const message = await answer;
    if (message.type !== 'rendered') throw cancelled();
    await told;
    return { width: message.width, height: message.height, pixels: message.pixels };
  }

  /** Tells of finished bands, of which any hand may speak, once it is known where the picture is. Resolves when all were told of. */
  private follow({ rows, done }: Bands): Promise<void> {
    let picture: Uint8Array | undefined;
    let left = Math.ceil(this.height / rows);
    const waiting: number[] = [];
    return new Promise((resolve) => {
      const hear = (message: FromWorker): void => {
        if (message.type === 'begun') picture = message.pixels;
        if (message.type === 'band') waiting.push(message.band);
        if (!picture) return;
        for (const band of waiting.splice(0)) {
          done(band, picture);
          left--;
        }
        if (left > 0) return;
        this.workers.forEach((worker) => worker.off('message', hear));
        resolve();
      };
      this.workers.forEach((worker) => worker.on('message', hear));
    });
  }

  /** Share of the tiles that are done, 0..1. */
  get progress(): number {
    return this.words ? Math.min(1, control.finishedTiles(this.words) / this.tiles) : 0;
  }

  get memoryBytes(): number {
    return this.memory.buffer.byteLength;
  }

  stop(): void {
    this.stopped = true;
    if (this.words) control.stop(this.words);
  }

  /** Ends all hands in the middle of what they do; whoever waits for it is told that it was cancelled. */
  breakOff(): void {
    this.broken = true;
    this.breaking?.(cancelled());
    this.workers.forEach((worker) => void worker.terminate().catch(() => undefined));
  }

  async dismiss(): Promise<void> {
    await Promise.all(this.workers.map((worker) => worker.terminate()));
  }

  private answer(wanted: (message: FromWorker) => boolean): Promise<FromWorker> {
    return new Promise((resolve, reject) => {
      const done = (act: () => void): void => {
        this.lead.off('message', hear);
        this.workers.forEach((worker) => worker.off('error', broke));
        this.breaking = undefined;
        act();
      };
      const broke = (error: unknown): void => done(() => reject(error));
      const hear = (message: FromWorker): void => {
        if (message.type === 'begun') this.begun(message);
        if (message.type === 'failed') done(() => reject(asError(message)));
        if (wanted(message)) done(() => resolve(message));
      };
      this.lead.on('message', hear);
      this.workers.forEach((worker) => worker.on('error', broke));
      this.breaking = broke;
    });
  }

  private begun({ control: words, tiles }: Extract<FromWorker, { type: 'begun' }>): void {
    this.words = words;
    this.tiles = tiles;
    if (this.stopped) control.stop(words);
  }
}

const cancelled = (): BexlenError => new BexlenError('cancelled', 'The export was cancelled.', 'Start it again when you want it.');

const asError = ({ message, fault }: Extract<FromWorker, { type: 'failed' }>): Error =>
  fault ? new BexlenError(fault.code, message, fault.hint) : new Error(message);
