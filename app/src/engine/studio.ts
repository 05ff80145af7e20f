import {
  around,
  copies,
  fitted,
  GRID,
  isAsItCame,
  neededOf,
  pictureSize,
  readPam,
  shapeOf,
  type Gamut,
  type Geometry,
  type Patch,
  type Rect,
  type Stack,
} from '@bexlen/core';
import { control } from '@bexlen/core/engine/work/pool';
import { newMemory } from '@bexlen/core/pixels/kernels';
import type { FromWorker, Slot, ToWorker } from '@bexlen/core/engine';
import { startPool } from '@bexlen/core/engine/pool-start';
import built from './built.json';
import { toFrame, type Frame } from './frame';
import { holdsWide } from '../state/wide';
import { beginDrawing, drawnBy } from '../state/drawing';
import { noteFault } from '../state/faults';
import { hearWorkers } from './hearing';
import { notePace, sharesMemory, wideScreen, workersHere } from './device';
import { fetchPart, fetchPatch, fetchProxy, type PhotoFile } from './pixels';
import { Passing } from './passing';
import { Supplies } from './supplies';
import { say } from '../words';

interface PhotoWish {
  readonly stack: Stack;
  /** A layer whose tones are wanted. */
  readonly watch?: string | undefined;
  /** A control is being moved: something must be seen soon. */
  readonly moving?: boolean;
  /** Its image is shown until the next one comes, not kept: the one after that is written in its place. */
  readonly passing?: boolean;
  readonly done: (frame: Frame) => void;
}

/** A part of the picture at full size that is at hand: where it lies, and how far beyond what is shown it goes. */
export interface Detail {
  readonly patch: Rect;
  readonly picture: { readonly width: number; readonly height: number };
}

interface DetailWish {
  readonly stack: Stack;
  readonly area: Rect;
  readonly done: (frame: Frame) => void;
}

/** A small picture of a stack, or the mask of one of its layers instead. */
export interface Small {
  readonly stack: Stack;
  readonly mask?: string | undefined;
}

interface SmallWish extends Small {
  readonly done: (image: ImageData | undefined) => void;
}

/** A mask as greys: to be looked at, or only to be measured. What is held for the picture itself is left alone. */
interface MaskWish {
  readonly stack: Stack;
  readonly mask: string;
  readonly looked: boolean;
  readonly done: (image: ImageData) => void;
}

/** A part of the working picture, where something is painted; in pixels of it. */
interface PaintWish {
  readonly stack: Stack;
  readonly area: Rect;
  readonly done: (image: ImageData, area: Rect) => void;
}

interface Particulars {
  readonly mask?: string | undefined;
  readonly watch?: string | undefined;
  readonly area?: Rect | undefined;
  /** Where the bytes of the image go; into new memory, unless given. */
  readonly room?: ((bytes: number) => Uint8ClampedArray<ArrayBuffer>) | undefined;
  /** The pixels of an earlier frame, where those of this one are not needed. */
  readonly last?: ImageData | undefined;
  /** Told how long it took, before the next wish is seen to. Only frames have it: what else is wanted is not stopped for a newer frame, since nobody would ask for it again. */
  readonly made?: (ms: number) => void;
}

/** A frame that takes longer than this is preceded by a coarse one, and given up for a newer wish. */
const SLOW_MS = 50;
const COARSE_EDGE = 1024;
const SMALL_EDGE = 256;
/** What a page may take of a phone's memory, for all sizes of a picture together. */
const MOST_BYTES = 1.5e9;

/** The sizes in which a photo is worked on, by the longest of them. */
export const edgesOf = (edge: number): readonly (readonly [Slot, number])[] => [
  ['photo', edge],
  ['small', SMALL_EDGE],
  ...(edge > COARSE_EDGE ? ([['coarse', COARSE_EDGE]] as const) : []),
];

/**
 * The page's end of the engine: a pool of workers over shared memory, or one worker where the page is not isolated. Of the pictures
 * asked for, the newest wins; small ones wait until no large one is wanted.
 */
export class Studio {
  private readonly workers: readonly Worker[];
  private readonly lead: Worker;
  private alpha = false;
  private gamut: Gamut = 'srgb';
  private busy: ((message: FromWorker) => void) | undefined;
  private photoWish: PhotoWish | undefined;
  private detailWish: DetailWish | undefined;
  private smallWishes: SmallWish[] = [];
  private maskWish: MaskWish | undefined;
  private paintWish: PaintWish | undefined;
  private shaped: { readonly width: number; readonly height: number } | undefined;
  /** What the working picture is made of. */
  private patch: Patch | undefined;
  private count = 0;
  /** How long the last whole frame took. */
  private lastMs = 0;
  private hasCoarse = false;
  private readonly supplies: Supplies;
  private readonly passing = new Passing();
  /** By which the work under way can be stopped. */
  private words: Int32Array | undefined;

  constructor(
    count: number,
    private readonly onFault: (message: string) => void,
    onNotice: (message: string) => void,
  ) {
    this.workers = Array.from({ length: count }, () => new Worker(built.worker, { type: 'module' }));
    this.lead = this.workers[0] as Worker;
    this.supplies = new Supplies(
      (message) => this.lead.postMessage(message),
      () => this.next(),
      onFault,
      onNotice,
    );
    this.workers.forEach((worker) => (worker.onerror = (event) => this.onFault(event.message || say.engine.theEngineCouldNotStart)));
  }

  /** Lets go of what the stacks until now named. */
  forget(): void {
    this.supplies.forget();
    this.lead.postMessage({ type: 'forget' } satisfies ToWorker);
  }

  static workerCount(): number {
    return sharesMemory() ? workersHere() : 1;
  }

  /** Starts the pool. */
  async begin(): Promise<void> {
    const shared = sharesMemory();
    const module = shared
      ? await WebAssembly.compileStreaming(fetch(built.kernels))
      : new Uint8Array(await (await fetch(built.kernelsAlone)).arrayBuffer());
    const memory = shared ? newMemory(true, MOST_BYTES) : undefined;
    const ready = hearWorkers(
      this.workers,
      (message) => this.hear(message),
      (error) => this.fail(error),
    );
    startPool(this.workers, { module, memory }, () => new MessageChannel());
    await ready;
    beginDrawing(built.worker, (wish) => this.lead.postMessage(wish));
  }

  /** Fetches a photo in its working size, a coarse and a small one, and shapes it. */
  async open(photo: PhotoFile, geometry: Geometry, edge: number, signal: AbortSignal): Promise<void> {
    const edges = edgesOf(edge);
    this.supplies.fittedTo(edge);
    const proxy = fetchProxy(photo, signal);
    const patches = await Promise.all(edges.map(async ([slot, most]) => ({ slot, most, ...(await fetchPatch(photo, geometry, most, signal)) })));
    this.lead.postMessage({ type: 'proxy', proxy: await proxy } satisfies ToWorker);
    this.hasCoarse = edge > COARSE_EDGE;
    this.lastMs = 0;
    this.passing.forget();
    for (const { slot, most, patch, pixels } of patches) {
      this.send(slot, { layout: patch.layout, pixels });
      if (slot === 'photo') this.shaped = patch.layout;
      if (!isAsItCame(geometry)) this.shape(slot, geometry, patch, most);
      if (slot !== 'photo') continue;
      this.patch = patch;
      this.alpha = patch.layout.channels === 4;
      this.gamut = patch.layout.gamut ?? 'srgb';
    }
  }

  /** Whether the working picture is made of the whole photo. */
  get holdsWhole(): boolean {
    const { patch } = this;
    return patch !== undefined && patch.rect.w === patch.photo.width && patch.rect.h === patch.photo.height;
  }

  /** Shapes the working picture anew out of what is at hand, which must be the whole photo. */
  reshape(geometry: Geometry, edge: number): void {
    if (this.patch) this.shape('photo', geometry, this.patch, edge);
  }

  /** Fetches a part of the picture at full size, with `reach` pixels around it, for `renderDetail`. */
  async openDetail(photo: PhotoFile, geometry: Geometry, part: Rect, reach: number, signal: AbortSignal): Promise<Detail> {
    const picture = pictureSize(geometry, photo);
    const from = (v: number): number => Math.max(0, Math.floor((v - reach) / GRID) * GRID);
    const [x, y] = [from(part.x), from(part.y)];
    const patch = { x, y, w: Math.min(picture.width, part.x + part.w + reach) - x, h: Math.min(picture.height, part.y + part.h + reach) - y };
    const share = { x: x / picture.width, y: y / picture.height, width: patch.w / picture.width, height: patch.h / picture.height };
    const rect = neededOf(geometry, photo, share);
    const { layout, pixels } = await fetchPart(photo, rect, Math.max(16, rect.w, rect.h), signal);
    this.send('detail', { layout, pixels });
    this.lead.postMessage({
      type: 'shape',
      slot: 'detail',
      shape: shapeOf(geometry, { photo, rect, layout }, picture, patch),
      spend: true,
    } satisfies ToWorker);
    return { patch, picture };
  }

  /** Asks for a part of the picture, in pixels of what `openDetail` fetched. */
  renderDetail(stack: Stack, area: Rect, done: (frame: Frame) => void): void {
    this.detailWish = { stack, area, done };
    this.next();
  }

  /** Asks for the picture of a stack. An earlier wish that has not begun is dropped. */
  render(wish: PhotoWish): void {
    this.photoWish = wish;
    if (this.words && this.lastMs > SLOW_MS) control.stop(this.words);
    this.next();
  }

  /** Asks for the mask of a layer. An earlier wish that has not begun is dropped. */
  renderMask(wish: MaskWish): void {
    this.maskWish = wish;
    this.next();
  }

  /** Asks for the part of the working picture where something is painted; with it comes what was asked for before and has not begun. */
  paint(wish: PaintWish): void {
    const { area } = this.paintWish ?? wish;
    this.paintWish = { ...wish, area: around(area, wish.area) };
    this.next();
  }

  /** Pixels of the working picture. */
  get size(): { readonly width: number; readonly height: number } | undefined {
    return this.shaped;
  }

  /** Small pictures of some stacks, in order; wishes that are replaced are answered with nothing. */
  renderSmall(stacks: readonly Small[], done: (index: number, image: ImageData) => void): () => void {
    const wishes = stacks.map((small, i): SmallWish => ({ ...small, done: (image) => image && done(i, image) }));
    this.smallWishes.push(...wishes);
    this.next();
    return () => {
      this.smallWishes = this.smallWishes.filter((wish) => !wishes.includes(wish));
    };
  }

  end(): void {
    this.workers.forEach((worker) => worker.terminate());
  }

  private shape(slot: Slot, geometry: Geometry, patch: Patch, edge: number): void {
    const wanted = fitted(pictureSize(geometry, patch.photo), edge);
    // Where only quarter turns and crops are asked for, the size of the patch is taken, so that its pixels are copied as they are.
    const { width, height } = patch.layout;
    const lying = geometry.turn % 180 === 0 ? { width, height } : { width: height, height: width };
    const whole = (size: { width: number; height: number }): Rect => ({ x: 0, y: 0, w: size.width, h: size.height });
    const plain = shapeOf(geometry, patch, lying, whole(lying));
    const shape = copies(plain.map) ? plain : shapeOf(geometry, patch, wanted, whole(wanted));
    this.lead.postMessage({ type: 'shape', slot, shape } satisfies ToWorker);
    if (slot !== 'photo') return;
    this.shaped = shape.layout;
    this.passing.forget();
  }

  private send(slot: Slot, { layout, pixels }: ReturnType<typeof readPam>): void {
    this.lead.postMessage({ type: 'open', slot, layout, bytes: pixels } satisfies ToWorker, [pixels.buffer as ArrayBuffer]);
  }

  private next(): void {
    if (this.busy) return;
    const wishes = [this.paintWish, this.photoWish, this.maskWish, this.detailWish, ...this.smallWishes];
    const stacks = wishes.flatMap((wish) => (wish ? [wish.stack] : []));
    if (!this.supplies.ready(stacks)) return;
    const paint = this.paintWish;
    if (paint) {
      this.paintWish = undefined;
      return this.order('photo', paint.stack, ({ image }) => paint.done(image, paint.area), { area: paint.area });
    }
    const photo = this.photoWish;
    if (photo) {
      this.photoWish = undefined;
      if (photo.moving && this.hasCoarse && this.lastMs > SLOW_MS) return this.coarseFirst(photo);
      return this.fine(photo);
    }
    const mask = this.maskWish;
    if (mask) {
      this.maskWish = undefined;
      const slot = !mask.looked ? 'small' : this.hasCoarse ? 'coarse' : 'photo';
      return this.order(slot, mask.stack, ({ image }) => mask.done(image), { mask: mask.mask });
    }
    const detail = this.detailWish;
    if (detail) {
      this.detailWish = undefined;
      return this.order('detail', detail.stack, detail.done, { area: detail.area });
    }
    const small = this.smallWishes.shift();
    if (small) this.order('small', small.stack, (frame) => small.done(frame.image), { mask: small.mask });
  }

  private fine({ stack, watch, passing, moving, done }: PhotoWish): void {
    const kept = (frame: Frame): void => {
      this.passing.note(frame);
      done(frame);
    };
    this.order('photo', stack, kept, {
      watch,
      last: this.passing.instead(moving === true && passing === true),
      room: passing ? (bytes) => this.passing.roomFor(bytes) : undefined,
      made: (ms) => {
        this.lastMs = ms;
        if (moving && this.shaped) notePace(ms, this.shaped);
      },
    });
  }

  /** A coarse frame at once; the fine one follows unless there is a newer wish by then. */
  private coarseFirst(wish: PhotoWish): void {
    this.order('coarse', wish.stack, wish.done, { made: () => (this.photoWish ??= { ...wish, moving: false }) });
  }

  /** The primaries in which pictures are shown: those of the photo, where screen and browser have them. */
  private get shownGamut(): Gamut {
    return this.gamut === 'display-p3' && wideScreen()?.matches && holdsWide() ? 'display-p3' : 'srgb';
  }

  private order(slot: Slot, stack: Stack, done: (frame: Frame) => void, { mask, watch, area, room, last, made }: Particulars = {}): void {
    const id = ++this.count;
    const gamut = this.shownGamut;
    this.busy = (message) => {
      if (!('id' in message) || message.id !== id) return;
      if (message.type === 'begun') {
        if (made) this.words = message.control;
        return;
      }
      this.words = undefined;
      this.busy = undefined;
      if (message.type === 'rendered') made?.(message.ms);
      // The pool goes on at once: it leaves the last picture where it is.
      this.next();
      if (message.type === 'rendered') done(toFrame(message, gamut, room, last));
    };
    const format = this.alpha ? 'rgba8' : 'screen';
    this.lead.postMessage({
      type: 'render',
      slot,
      id,
      stack,
      format,
      gamut,
      ...(mask && { mask }),
      ...(watch && { watch }),
      ...(area && { area }),
      ...(last && { onlySeen: true }),
    } satisfies ToWorker);
  }

  /** A picture could not be shown: whoever waits sees why, and so does the log. */
  private fail(error: unknown): void {
    noteFault(error);
    this.onFault(say.engine.couldNotBeDrawn(error instanceof Error ? error.message : String(error)));
  }

  private hear(message: FromWorker): void {
    if (message.type === 'failed') this.onFault(message.message);
    if (message.type === 'machine') return drawnBy(message);
    this.busy?.(message);
  }
}
