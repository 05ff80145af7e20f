import { newMemory, PAM_TYPE, readPam, type FromHand, type Layout, type Slot, type Stack, type ToHand, type Tones } from '@bexlen/core';
import built from './built.json';

export interface Frame {
  readonly image: ImageData;
  readonly tones?: Tones;
  readonly ms: number;
}

interface PhotoWish {
  readonly stack: Stack;
  readonly watch?: string | undefined;
  readonly done: (frame: Frame) => void;
}

interface SmallWish {
  readonly stack: Stack;
  readonly done: (image: ImageData | undefined) => void;
}

const MOST_HANDS = 4;
/** What a page may take of a phone's memory. */
const MOST_BYTES = 1e9;

/**
 * The page's end of the engine: a crew of workers over shared memory, or one worker where the page is not isolated. Of the pictures
 * asked for, the newest wins; small ones wait until no large one is wanted.
 */
export class Studio {
  private readonly workers: readonly Worker[];
  private readonly lead: Worker;
  private alpha = false;
  private busy: ((message: FromHand) => void) | undefined;
  private photoWish: PhotoWish | undefined;
  private smallWishes: SmallWish[] = [];
  private count = 0;
  private onFault: (message: string) => void;

  constructor(hands: number, onFault: (message: string) => void) {
    this.onFault = onFault;
    this.workers = Array.from({ length: hands }, () => new Worker(built.hand, { type: 'module' }));
    this.lead = this.workers[0] as Worker;
    this.workers.forEach((worker) => (worker.onerror = (event) => this.onFault(event.message || 'The engine could not start.')));
  }

  static hands(): number {
    return globalThis.crossOriginIsolated ? Math.max(1, Math.min(MOST_HANDS, navigator.hardwareConcurrency || 1)) : 1;
  }

  /** Starts the crew. */
  async begin(): Promise<void> {
    const shared = globalThis.crossOriginIsolated;
    const module = await WebAssembly.compileStreaming(fetch(shared ? built.kernels : built.kernelsAlone));
    const memory = shared ? newMemory(true, MOST_BYTES) : undefined;
    const parts = this.workers.length;
    const helpers = this.workers.slice(1).map((worker, i) => {
      const { port1, port2 } = new MessageChannel();
      worker.postMessage({ type: 'assist', module, memory, part: i + 1, parts, lead: port1 }, [port1]);
      return port2;
    });
    const ready = new Promise<void>((resolve) => {
      this.lead.onmessage = ({ data }: MessageEvent<FromHand>) => {
        if (data.type === 'ready') return resolve();
        this.hear(data);
      };
    });
    this.lead.postMessage({ type: 'begin', module, memory, helpers }, helpers);
    await ready;
  }

  /** Fetches a photo in its working size and in the small one. */
  async open(photoId: string, edge: number, signal: AbortSignal): Promise<Layout> {
    const [photo, small] = await Promise.all([this.fetch(photoId, edge, signal), this.fetch(photoId, 256, signal)]);
    this.alpha = photo.layout.channels === 4;
    this.send('photo', photo);
    this.send('small', small);
    return photo.layout;
  }

  /** Asks for the picture of a stack. An earlier wish that has not begun is dropped. */
  render(stack: Stack, watch: string | undefined, done: (frame: Frame) => void): void {
    this.photoWish = { stack, watch, done };
    this.next();
  }

  /** Small pictures of some stacks, in order; wishes that are replaced are answered with nothing. */
  renderSmall(stacks: readonly Stack[], done: (index: number, image: ImageData) => void): () => void {
    const wishes = stacks.map((stack, i): SmallWish => ({ stack, done: (image) => image && done(i, image) }));
    this.smallWishes.push(...wishes);
    this.next();
    return () => {
      this.smallWishes = this.smallWishes.filter((wish) => !wishes.includes(wish));
    };
  }

  end(): void {
    this.workers.forEach((worker) => worker.terminate());
  }

  private async fetch(photoId: string, edge: number, signal: AbortSignal): Promise<ReturnType<typeof readPam>> {
    const answer = await fetch(`/api/photos/${photoId}/pixels?edge=${edge}`, { signal, headers: { Accept: PAM_TYPE } });
    if (!answer.ok) throw new Error(`The photo could not be fetched (${answer.status}).`);
    return readPam(new Uint8Array(await answer.arrayBuffer()));
  }

  private send(slot: Slot, { layout, pixels }: ReturnType<typeof readPam>): void {
    this.lead.postMessage({ type: 'open', slot, layout, bytes: pixels } satisfies ToHand, [pixels.buffer as ArrayBuffer]);
  }

  private next(): void {
    if (this.busy) return;
    const photo = this.photoWish;
    if (photo) {
      this.photoWish = undefined;
      return this.order('photo', photo.stack, photo.watch, (frame) => photo.done(frame));
    }
    const small = this.smallWishes.shift();
    if (small) this.order('small', small.stack, undefined, (frame) => small.done(frame.image));
  }

  private order(slot: Slot, stack: Stack, watch: string | undefined, done: (frame: Frame) => void): void {
    const id = ++this.count;
    this.busy = (message) => {
      if (message.type === 'begun' || !('id' in message) || message.id !== id) return;
      this.busy = undefined;
      if (message.type === 'rendered') done(toFrame(message));
      this.next();
    };
    this.lead.postMessage({ type: 'render', slot, id, stack, format: this.alpha ? 'rgba8' : 'screen', ...(watch && { watch }) } satisfies ToHand);
  }

  private hear(message: FromHand): void {
    if (message.type === 'failed') this.onFault(message.message);
    this.busy?.(message);
  }
}

function toFrame({ width, height, pixels, tones, ms }: Extract<FromHand, { type: 'rendered' }>): Frame {
  const image = new ImageData(width, height);
  image.data.set(pixels);
  return { image, ms, ...(tones && { tones }) };
}
