import type { Heap } from '../pixels/heap';
import { PIXEL } from '../pixels/kernels';
import { pyramidFor, pyramidSizes, type Pyramid } from '../pixels/pyramid';
import type { Layout } from '../pixels/picture';
import { inputsOf, slice, type Program, type Step, type Value } from './compile';
import { scratchBytes } from './perform';
import {
  LOCAL_TILE,
  PLAIN_TILE,
  QUARTER_RIM,
  QUARTER_TILE,
  type LocalBlur,
  type Low,
  type Pass,
  type Plan,
  type ReducePass,
  type Route,
  type StoreFormat,
  type TileSize,
} from './plan';

type BlurStep = Extract<Step, { do: 'blur' }>;

/** From this factor down, a blurred image is made once for the whole picture; below it, tile by tile. */
const GLOBAL_FACTOR = 4;

interface Blurred extends Low {
  readonly bytes: number;
}

export interface Wanted {
  readonly at: number;
  readonly format: StoreFormat;
  /** Size of the tiles of the last pass; what suits the caches, unless given. */
  readonly tile?: TileSize;
  /** Where each part counts tones: 2048 bytes each; needs a watched layer. */
  readonly tallies?: readonly number[];
}

/**
 * Turns programs into plans: decides what is blurred where, holds tables and blurred images in memory, and knows from one
 * plan to the next which of them still hold.
 */
export class Planner {
  private readonly tables = new Map<string, number>();
  private readonly blurred = new Map<Value, Blurred>();
  private readonly pyramids = new Map<number, Pyramid & { readonly tapsAt: number; readonly weightsAt: number }>();
  private scratch: { at: number[]; bytes: number } = { at: [], bytes: 0 };

  /** @param keepBytes how much memory blurred images may hold that the latest plan does not use. */
  constructor(
    private readonly heap: Heap,
    private readonly layout: Layout,
    private readonly at: number,
    private readonly parts: number,
    private readonly keepBytes: number,
  ) {}

  /** A plan for a program. `done` is to be called when it was carried out, and tells whether it was finished. */
  plan(program: Program, wanted: Wanted): { plan: Plan; done: (finished: boolean) => void } {
    const used = new Set<Value>();
    const passes: Pass[] = [];
    const spares: number[] = [];
    const blurs = new Map(program.steps.filter((s): s is BlurStep => s.do === 'blur').map((s) => [s.to, s]));

    const routeTo = (out: Value, extra: readonly Value[] = []): Route => {
      const locals = new Map<Value, LocalBlur>();
      const stepsTo = (values: readonly Value[]): Step[] => {
        const steps = slice(program.steps, values, new Set(blurs.keys()));
        const reads = new Set([...values, ...steps.flatMap(inputsOf)]);
        [...blurs.values()].filter((b) => reads.has(b.to)).forEach(need);
        return steps;
      };
      const need = (blur: BlurStep): void => {
        const pyramid = this.pyramid(blur.sigmaPx);
        if (pyramid.factor >= GLOBAL_FACTOR) return ensure(blur);
        if (locals.has(blur.to)) return;
        const steps = stepsTo([blur.from]);
        const { factor, tapsAt: taps, weightsAt: weights, origin } = pyramid;
        locals.set(blur.to, { to: blur.to, from: blur.from, factor: factor as 1 | 2, radius: pyramid.taps.length - 1, taps, weights, origin, steps });
      };
      const steps = stepsTo([out, ...extra]);
      return { locals: [...locals.values()], steps, out };
    };
    const ensure = (blur: BlurStep): void => {
      if (used.has(blur.to)) return;
      used.add(blur.to);
      if (this.blurred.has(blur.to)) return;
      const route = routeTo(blur.from);
      passes.push(this.reducePass(blur, route, spares));
    };

    const own = program.watched;
    const tally = wanted.tallies && own ? { ...own, at: wanted.tallies } : undefined;
    const route = routeTo(program.out, tally ? [tally.own, tally.beneath] : []);
    const tile = wanted.tile ?? (route.locals.length > 0 ? LOCAL_TILE : PLAIN_TILE);
    passes.push({ do: 'store', route, at: wanted.at, format: wanted.format, tile, ...(tally && { tally }) });

    const plan: Plan = {
      source: { at: this.at, layout: this.layout },
      tables: this.tablesFor(program),
      lows: Object.fromEntries([...used].map((v) => [v, this.blurred.get(v) as Blurred])),
      passes,
      scratch: this.scratchFor(passes),
    };
    const made = passes.flatMap((pass) => (pass.do === 'reduce' ? [pass.to] : []));
    return { plan, done: (finished) => this.tidy(spares, used, finished ? [] : made) };
  }

  /** Gives everything back. */
  end(): void {
    [...this.tables.values(), ...this.scratch.at].forEach((at) => this.heap.release(at));
    [...this.blurred.values()].forEach(({ at }) => this.heap.release(at));
    [...this.pyramids.values()].forEach(({ tapsAt }) => this.heap.release(tapsAt));
    [this.tables, this.blurred, this.pyramids].forEach((map) => map.clear());
    this.scratch = { at: [], bytes: 0 };
  }

  private reducePass(blur: BlurStep, route: Route, spares: number[]): ReducePass {
    const { factor, taps, tapsAt, weightsAt, origin } = this.pyramid(blur.sigmaPx);
    const sizes = pyramidSizes(this.layout.width, this.layout.height, factor).slice(2);
    const levels = sizes.map(({ width, height }) => ({ at: this.heap.take(width * height * PIXEL), width, height }));
    const last = levels[levels.length - 1];
    if (!last) throw new Error('a blurred image needs a size');
    const bytes = last.width * last.height * PIXEL;
    const spare = this.heap.take(bytes);
    spares.push(spare, ...levels.slice(0, -1).map(({ at }) => at));
    this.blurred.set(blur.to, { ...last, factor, origin, weights: weightsAt, bytes });
    return { do: 'reduce', to: blur.to, route, levels, radius: taps.length - 1, taps: tapsAt, spare };
  }

  /** After a plan: gives scratch images back, and blurred images that nobody used lately, oldest first. */
  private tidy(spares: readonly number[], used: ReadonlySet<Value>, broken: readonly Value[]): void {
    spares.forEach((at) => this.heap.release(at));
    const forget = (value: Value): void => {
      this.heap.release((this.blurred.get(value) as Blurred).at);
      this.blurred.delete(value);
    };
    broken.forEach(forget);
    const idle = [...this.blurred.keys()].filter((value) => !used.has(value));
    let bytes = idle.reduce((sum, value) => sum + (this.blurred.get(value) as Blurred).bytes, 0);
    for (const value of idle) {
      if (bytes <= this.keepBytes) break;
      bytes -= (this.blurred.get(value) as Blurred).bytes;
      forget(value);
    }
  }

  private pyramid(sigma: number) {
    const known = this.pyramids.get(sigma);
    if (known) return known;
    const pyramid = pyramidFor(sigma);
    const tapsAt = this.heap.take(pyramid.taps.byteLength + pyramid.weights.byteLength);
    const weightsAt = tapsAt + pyramid.taps.byteLength;
    new Float32Array(this.heap.memory.buffer, tapsAt, pyramid.taps.length).set(pyramid.taps);
    new Float32Array(this.heap.memory.buffer, weightsAt, pyramid.weights.length).set(pyramid.weights);
    const entry = { ...pyramid, tapsAt, weightsAt };
    this.pyramids.set(sigma, entry);
    return entry;
  }

  private tablesFor(program: Program): Record<string, number> {
    for (const [id, at] of this.tables) {
      if (program.tables.has(id)) continue;
      this.heap.release(at);
      this.tables.delete(id);
    }
    for (const [id, make] of program.tables) {
      if (this.tables.has(id)) continue;
      const table = make();
      const at = this.heap.take(table.byteLength);
      new Float32Array(this.heap.memory.buffer, at, table.length).set(table);
      this.tables.set(id, at);
    }
    return Object.fromEntries(this.tables);
  }

  private scratchFor(passes: readonly Pass[]): number[] {
    const bytes = Math.max(...passes.map((pass) => scratchBytes(pass.route, tileOf(pass), this.layout)));
    if (bytes > this.scratch.bytes) {
      this.scratch.at.forEach((at) => this.heap.release(at));
      this.scratch = { at: Array.from({ length: this.parts }, () => this.heap.take(bytes)), bytes };
    }
    return this.scratch.at;
  }
}

function tileOf(pass: Pass): TileSize {
  if (pass.do === 'store') return pass.tile;
  return { width: 4 * QUARTER_TILE.width + QUARTER_RIM, height: 4 * QUARTER_TILE.height + QUARTER_RIM };
}
