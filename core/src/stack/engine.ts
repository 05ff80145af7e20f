import { Heap } from '../pixels/heap';
import type { Kernels } from '../pixels/kernels';
import { byteLength, type Layout } from '../pixels/picture';
import { compile, Names } from './compile';
import { control, CONTROL_WORDS, Crew } from './crew';
import { perform } from './perform';
import { bytesOf, tilesOf, type Plan, type StoreFormat, type TileSize } from './plan';
import { Planner } from './planner';
import type { Stack } from './schema';

/** Bytes at the foot of the memory that belong to the kernels. */
const FOOT = 4096;
const TALLY_BYTES = 2048;

export interface Order {
  readonly stack: Stack;
  readonly format: StoreFormat;
  /** A layer whose gate's histograms are wanted. */
  readonly watch?: string;
  /** Size of the tiles, for those who want another than the engine's own. */
  readonly tile?: TileSize;
  /** Called when the work begins, with the words by which it can be stopped and followed from another thread. */
  readonly begun?: (words: Int32Array, tiles: number) => void;
}

/** Tones of what a layer makes and of what lies beneath it: 256 counts each. */
export interface Tones {
  readonly own: Uint32Array;
  readonly beneath: Uint32Array;
}

export interface Rendered {
  readonly width: number;
  readonly height: number;
  /** The finished pixels, in the engine's memory; they hold until the next render. */
  readonly pixels: Uint8Array;
  readonly tones?: Tones;
}

/** Hands a plan to the other members of the crew. Alone, there is nobody to tell. */
export type Announce = (plan: Plan) => void;

/** One photo in memory, and whatever stack is asked for, made of it. */
export class Engine {
  readonly controlWords: Int32Array;
  private readonly heap: Heap;
  private readonly crew: Crew;
  private names = new Names();
  private source: { layout: Layout; at: number } | undefined;
  private planner: Planner | undefined;
  private output: { at: number; bytes: number } | undefined;
  private tallies: number[] = [];

  /**
   * @param parts how many hands work at a render; the engine's own is part 0.
   * @param keepBytes memory for blurred images that may be wanted again.
   */
  constructor(
    private readonly memory: WebAssembly.Memory,
    private readonly kernels: Kernels,
    private readonly parts: number,
    private readonly announce: Announce = () => undefined,
    private readonly keepBytes = 64e6,
  ) {
    this.heap = new Heap(memory, FOOT);
    this.controlWords = this.newControl();
    this.crew = new Crew(this.controlWords, 0, parts);
  }

  /** Makes room for a photo and forgets the last one. Returns where its bytes go: little-endian, without padding. */
  open(layout: Layout): Uint8Array {
    this.close();
    const at = this.heap.take(byteLength(layout));
    this.source = { layout, at };
    this.names = new Names();
    this.planner = new Planner(this.heap, layout, at, this.parts, this.keepBytes);
    return new Uint8Array(this.memory.buffer, at, byteLength(layout));
  }

  /** The picture of a stack; undefined if it was stopped. Blocks its thread until it is done. */
  render({ stack, format, watch, tile, begun }: Order): Rendered | undefined {
    if (!this.source || !this.planner) throw new Error('no photo is open');
    const { layout } = this.source;
    const program = compile(stack, layout, this.names, watch === undefined ? undefined : { layer: watch });
    const at = this.outputFor(layout.width * layout.height * bytesOf(format));
    const tallies = program.watched ? this.clearedTallies() : undefined;
    const { plan, done } = this.planner.plan(program, { at, format, ...(tile && { tile }), ...(tallies && { tallies }) });
    control.reset(this.controlWords);
    begun?.(this.controlWords, tilesOf(plan));
    if (this.parts > 1) this.announce(plan);
    const finished = perform(plan, this.kernels, this.crew);
    done(finished);
    if (!finished) return undefined;
    const pixels = new Uint8Array(this.memory.buffer, at, layout.width * layout.height * bytesOf(format));
    return { width: layout.width, height: layout.height, pixels, ...(tallies && { tones: this.sum(tallies) }) };
  }

  /** In shared memory for a crew; apart for one hand alone, whose memory may move when it grows. */
  private newControl(): Int32Array {
    if (this.memory.buffer instanceof ArrayBuffer) return new Int32Array(CONTROL_WORDS);
    return new Int32Array(this.memory.buffer, this.heap.take(CONTROL_WORDS * 4), CONTROL_WORDS);
  }

  close(): void {
    this.planner?.end();
    if (this.source) this.heap.release(this.source.at);
    this.source = undefined;
    this.planner = undefined;
  }

  private outputFor(bytes: number): number {
    if (this.output && this.output.bytes >= bytes) return this.output.at;
    if (this.output) this.heap.release(this.output.at);
    this.output = { at: this.heap.take(bytes), bytes };
    return this.output.at;
  }

  private clearedTallies(): number[] {
    while (this.tallies.length < this.parts) this.tallies.push(this.heap.take(TALLY_BYTES));
    this.tallies.forEach((at) => new Uint8Array(this.memory.buffer, at, TALLY_BYTES).fill(0));
    return this.tallies;
  }

  private sum(tallies: readonly number[]): Tones {
    const total = new Uint32Array(512);
    for (const at of tallies) new Uint32Array(this.memory.buffer, at, 512).forEach((count, i) => (total[i] = (total[i] as number) + count));
    return { own: total.slice(0, 256), beneath: total.slice(256) };
  }
}

/** The crew's other hands: carries out a plan that was announced. */
export function help(plan: Plan, kernels: Kernels, memory: WebAssembly.Memory, controlAt: number, part: number, parts: number): void {
  perform(plan, kernels, new Crew(new Int32Array(memory.buffer, controlAt, CONTROL_WORDS), part, parts));
}
