import { Heap } from '../pixels/heap';
import { NOISE_BYTES, type Kernels } from '../pixels/kernels';
import { copies, filmPlaceOf, type FilmPlace, type Shape, type PhotoProxy } from '../geometry/shape';
import { byteLength, bytesPerPixel, type Layout, type Rect } from '../pixels/picture';
import type { Gamut } from '../pixels/gamut';
import { compile } from '../stack/compile';
import { inverse, inTurn, mapped, scaleBy } from '../geometry/matrix';
import { Resources } from '../resources';
import { PHOTO, ValueNumbers, type Program, type Step, type Value } from '../stack/program';
import type { Asked, Source } from '../gpu';
import { control, CONTROL_WORDS, Pool } from './work/pool';
import { perform, type BandDone } from './work/perform';
import { bytesOf, tilesOf, type Plan, type StoreFormat } from './plan/plan';
import type { TileSize } from './plan/tiles';
import { Planner } from './plan/planner';
import type { Stack } from '../stack/schema';
import { copied, linearTable, WARP_TILE, warpScratch } from './work/warp';

/** Bytes at the foot of the memory that belong to the kernels. */
const FOOT = 4096;
const HISTOGRAM_BYTES = 2048;

export interface Order {
  readonly stack: Stack;
  readonly format: StoreFormat;
  /** The primaries of what is made; those of the photo, unless said. */
  readonly gamut?: Gamut;
  /** A layer whose gate's histograms are wanted. */
  readonly watch?: string;
  /** Instead of the picture, as greys: the mask of a layer, or what any live layer's mask lets through, `EVERY_MASK`. */
  readonly mask?: string;
  /** Size of the tiles, for those who want another than the engine's own. */
  readonly tile?: TileSize;
  /** The part of the picture that is wanted; all of it, unless given. */
  readonly area?: Rect;
  /** The photo is not needed again: the picture may be written in its place. It has to be opened anew after that. */
  readonly spend?: boolean;
  /** Rows of the bands of which `bandDone` is told as they are finished; a multiple of 256, for at most 1024 bands. */
  readonly band?: number;
  readonly bandDone?: BandDone;
  /** Called when the work begins, with the words by which it can be stopped and followed from another thread, and where the picture will be. */
  readonly begun?: (words: Int32Array, tiles: number, pixels: Uint8Array) => void;
}

/** Tones of what a layer makes and of what lies beneath it: 256 counts each. */
export interface Tones {
  readonly own: Uint32Array;
  readonly beneath: Uint32Array;
}

type PictureStep = Extract<Step, { do: 'picture' }>;
type Resampled = Plan['pictures'][number];

export interface Rendered {
  readonly width: number;
  readonly height: number;
  /** The finished pixels, in the engine's memory; they hold until the render after the next, or until the next one if the photo was spent. */
  readonly pixels: Uint8Array;
  readonly tones?: Tones;
}

/** Hands a plan to the other members of the pool. Alone, there is nobody to tell. */
export type Announce = (plan: Plan) => void;

/** All of a memory but what belongs to the kernels. */
export const heapIn = (memory: WebAssembly.Memory): Heap => new Heap(memory, FOOT);

/** One photo in memory, and whatever stack is asked for, made of it. */
export class Engine {
  readonly controlWords: Int32Array;
  /** The whole photo, small, for those who open one; until it is set, what asks for it is told of nothing. */
  proxy: PhotoProxy | undefined;
  private readonly pool: Pool;
  private names = new ValueNumbers();
  /** Photo as it was opened. */
  private photo: { layout: Layout; at: number } | undefined;
  /** What the first layer reads: the photo, or what its geometry makes of it. */
  private source: { layout: Layout; at: number; place: FilmPlace } | undefined;
  private planner: Planner | undefined;
  /** How many pictures the first layer has read so far. */
  private reads = 0;
  /** Where the last pictures are, the latest first: one may be read while the next is made. */
  private outputs: { at: number; bytes: number }[] = [];
  private histograms: number[] = [];
  /** Other photos as they were last resampled, by their pixels and where they lie. */
  private readonly pictures = new Map<string, Resampled>();
  private readonly noise: number;

  /**
   * @param parts how many workers work at a render; the engine's own is part 0.
   * @param keepBytes memory for blurred images that may be wanted again.
   * @param heap of that memory, where other engines take from it too; `heapIn` makes one.
   */
  constructor(
    private readonly memory: WebAssembly.Memory,
    private readonly kernels: Kernels,
    private readonly parts: number,
    private readonly announce: Announce = () => undefined,
    private readonly keepBytes = 64e6,
    private readonly heap = heapIn(memory),
    /** What layers name; engines of one pool share it. */
    readonly resources = new Resources(),
  ) {
    this.controlWords = this.newControl();
    this.pool = new Pool(this.controlWords, 0, parts);
    this.noise = this.heap.acquire(NOISE_BYTES);
    kernels.sow(this.noise);
  }

  /**
   * Makes room for a photo and forgets the last one. Returns where its bytes go: little-endian, without padding. `place` says where they belong, if they are
   * not the whole photo.
   */
  open(layout: Layout, place: FilmPlace = filmPlaceOf(layout)): Uint8Array {
    this.close();
    const at = this.heap.acquire(byteLength(layout));
    this.photo = { layout, at };
    this.read({ layout, at, place });
    return new Uint8Array(this.memory.buffer, at, byteLength(layout));
  }

  /** Pixels of what the first layer reads. */
  get size(): { readonly w: number; readonly h: number } {
    if (!this.source) throw new Error('no photo is open');
    const { width, height } = this.source.layout;
    return { w: width, h: height };
  }

  /** Makes the picture that the first layer reads out of the photo, anew each time. With `spend` the photo is let go: it has to be opened again for another shape. */
  shape({ layout, map, place }: Shape, spend = false): void {
    const { photo } = this;
    if (!photo) throw new Error('no photo is open');
    if (this.source && this.source.at !== photo.at) this.heap.release(this.source.at);
    const at = this.heap.acquire(byteLength(layout));
    if (copies(map)) copied(new Uint8Array(this.memory.buffer), photo.at, photo.layout, at, layout, map);
    else this.warp(photo, layout, map, at);
    this.read({ layout, at, place });
    if (!spend) return;
    this.heap.release(photo.at);
    this.photo = { layout, at };
  }

  /**
   * The program of an order, and the pixels that it reads, for another machine. These hold until the next order, or a photo is opened or shaped; what has the same key is the same.
   * Values mean the same pixels from one program to the next as long as the photo has the same key.
   */
  seen(order: Asked): { program: Program; sources: ReadonlyMap<Value, Source> } {
    if (!this.source) throw new Error('no photo is open');
    const program = this.programOf(order);
    const read = this.reads;
    const bytesAt = ({ at, layout }: Resampled, key: string): Source => ({
      key: `${read} ${key}`,
      layout,
      bytes: new Uint8Array(this.memory.buffer, at, byteLength(layout)),
    });
    const pictures = this.picturesFor(program, this.source.layout);
    const places = program.steps.filter((step): step is PictureStep => step.do === 'picture');
    return {
      program,
      sources: new Map([
        [PHOTO, bytesAt(this.source, 'photo')],
        ...places.map((step): [Value, Source] => [step.to, bytesAt(pictures[step.to] as Resampled, `${step.key} ${step.map.join(' ')}`)]),
      ]),
    };
  }

  private programOf({ stack, gamut, watch, mask }: Asked): Program {
    if (!this.source) throw new Error('no photo is open');
    const { layout, place } = this.source;
    const lies = {
      ...place,
      ...(layout.gamut && { gamut: layout.gamut }),
      ...(layout.headroom && { headroom: layout.headroom }),
      resources: this.resources,
      ...(this.proxy && { proxy: this.proxy }),
    };
    return compile(stack, lies, this.names, { watch: watch === undefined ? undefined : { layer: watch }, gamut, mask });
  }

  /** Other photos that a program names, each resampled once for its place. What this program has no use for is let go. */
  private picturesFor({ steps }: Program, { width, height }: Layout): Plan['pictures'] {
    const wanted = steps.filter((step): step is PictureStep => step.do === 'picture');
    const names = new Map(wanted.map((step) => [`${step.key} ${step.map.join(' ')}`, step]));
    for (const [name, { at }] of this.pictures)
      if (!names.has(name)) {
        this.heap.release(at);
        this.pictures.delete(name);
      }
    for (const [name, step] of names) if (!this.pictures.has(name)) this.pictures.set(name, this.resampled(step, width, height));
    return Object.fromEntries(wanted.map((step) => [step.to, this.pictures.get(`${step.key} ${step.map.join(' ')}`) as Resampled]));
  }

  private resampled({ name, map }: PictureStep, width: number, height: number): Resampled {
    // How many of its pixels come to one of what is made, about its own middle.
    const [x, y] = mapped(inverse(map), 0.5, 0.5);
    const steps = [mapped(map, x + 1, y), mapped(map, x, y + 1)];
    // Along the side of what is made on which fewer come: along the other one more than two may.
    const pixels = this.resources.pictures.pixelsFor(name, (across, down) =>
      Math.min(...steps.map(([u, v]) => Math.hypot((u - 0.5) * across, (v - 0.5) * down))),
    );
    if (!pixels) throw new Error(`no picture ${name} was provided`);
    const from = this.heap.acquire(pixels.bytes.byteLength);
    new Uint8Array(this.memory.buffer, from, pixels.bytes.byteLength).set(pixels.bytes);
    const layout: Layout = { width, height, depth: 16, channels: pixels.layout.channels };
    const at = this.heap.acquire(byteLength(layout));
    this.warp({ layout: pixels.layout, at: from }, layout, inTurn(map, scaleBy(pixels.width, pixels.height)), at);
    this.heap.release(from);
    return { at, layout };
  }

  private read(source: { layout: Layout; at: number; place: FilmPlace }): void {
    this.planner?.end();
    this.pictures.forEach(({ at }) => this.heap.release(at));
    this.pictures.clear();
    this.source = source;
    this.reads++;
    this.names = new ValueNumbers();
    this.planner = new Planner(this.heap, source.layout, source.at, this.noise, this.parts, this.keepBytes);
  }

  private warp(photo: { layout: Layout; at: number }, layout: Layout, map: Shape['map'], at: number): void {
    const light = linearTable();
    const table = this.heap.acquire(light.byteLength);
    new Float32Array(this.memory.buffer, table, light.length).set(light);
    const scratch = Array.from({ length: this.parts }, () => this.heap.acquire(warpScratch(map, layout, photo.layout)));
    const pass = { do: 'warp', at, layout, map, table, tile: WARP_TILE } as const;
    const plan: Plan = {
      to: at,
      source: photo,
      tables: {},
      noise: this.noise,
      lows: {},
      numbers: [],
      pictures: {},
      held: {},
      passes: [pass],
      scratch,
    };
    control.reset(this.controlWords);
    if (this.parts > 1) this.announce(plan);
    perform(plan, this.kernels, this.pool);
    [table, ...scratch].forEach((piece) => this.heap.release(piece));
  }

  /** The picture of a stack; undefined if it was stopped. Blocks its thread until it is done. */
  render({ stack, format, gamut, watch, mask, tile, area, spend = false, band, bandDone, begun }: Order): Rendered | undefined {
    if (!this.source || !this.planner) throw new Error('no photo is open');
    const { layout, at: photoAt } = this.source;
    const program = this.programOf({
      stack,
      ...(gamut && { gamut }),
      ...(watch !== undefined && { watch }),
      ...(mask !== undefined && { mask }),
    });
    const histograms = program.watched ? this.clearedHistograms() : undefined;
    const { w: width, h: height } = area ?? { w: layout.width, h: layout.height };
    const bytes = width * height * bytesOf(format);
    const inPlace = spend && !area && bytesOf(format) === bytesPerPixel(layout);
    const at = (blursLocally: boolean): number => (inPlace && !blursLocally ? photoAt : this.outputFor(bytes, spend ? 1 : 2));
    const pictures = this.picturesFor(program, layout);
    const { plan, done } = this.planner.plan(program, {
      pictures,
      at,
      format,
      hold: !spend,
      ...(tile && { tile }),
      ...(area && { area }),
      ...(band && { band }),
      ...(histograms && { histograms }),
    });
    control.reset(this.controlWords);
    begun?.(this.controlWords, tilesOf(plan), new Uint8Array(this.memory.buffer, plan.to, bytes));
    if (this.parts > 1) this.announce(plan);
    const finished = perform(plan, this.kernels, this.pool, bandDone);
    done(finished);
    const { to } = plan;
    if (to === photoAt) this.spend();
    if (!finished) return undefined;
    const pixels = new Uint8Array(this.memory.buffer, to, bytes);
    return { width, height, pixels, ...(histograms && { tones: this.sum(histograms) }) };
  }

  /** In shared memory for a pool; apart for one worker alone, whose memory may move when it grows. */
  private newControl(): Int32Array {
    if (this.memory.buffer[Symbol.toStringTag] === 'ArrayBuffer') return new Int32Array(CONTROL_WORDS);
    // The memory may grow for it.
    const at = this.heap.acquire(CONTROL_WORDS * 4);
    // What was held there before is still there, and a pool that begins with members waiting waits for ever.
    return new Int32Array(this.memory.buffer, at, CONTROL_WORDS).fill(0);
  }

  /** The photo's place holds the picture now; it is given back when the next photo is opened. */
  private spend(): void {
    this.planner?.end();
    this.planner = undefined;
  }

  close(): void {
    this.planner?.end();
    if (this.source && this.source.at !== this.photo?.at) this.heap.release(this.source.at);
    if (this.photo) this.heap.release(this.photo.at);
    this.photo = undefined;
    this.source = undefined;
    this.planner = undefined;
  }

  /** Room for a picture, in the place of the oldest of so many. */
  private outputFor(bytes: number, most: number): number {
    const oldest = this.outputs.length >= most ? this.outputs.pop() : undefined;
    if (oldest && oldest.bytes < bytes) this.heap.release(oldest.at);
    const output = oldest && oldest.bytes >= bytes ? oldest : { at: this.heap.acquire(bytes), bytes };
    this.outputs.unshift(output);
    return output.at;
  }

  private clearedHistograms(): number[] {
    while (this.histograms.length < this.parts) this.histograms.push(this.heap.acquire(HISTOGRAM_BYTES));
    this.histograms.forEach((at) => new Uint8Array(this.memory.buffer, at, HISTOGRAM_BYTES).fill(0));
    return this.histograms;
  }

  private sum(histograms: readonly number[]): Tones {
    const total = new Uint32Array(512);
    for (const at of histograms) new Uint32Array(this.memory.buffer, at, 512).forEach((count, i) => (total[i] = (total[i] as number) + count));
    return { own: total.slice(0, 256), beneath: total.slice(256) };
  }
}

/** The pool's other workers: carries out a plan that was announced. */
export function help(
  plan: Plan,
  kernels: Kernels,
  memory: WebAssembly.Memory,
  controlAt: number,
  part: number,
  parts: number,
  bandDone: BandDone,
): void {
  perform(plan, kernels, new Pool(new Int32Array(memory.buffer, controlAt, CONTROL_WORDS), part, parts), bandDone);
}
