import { opOf } from '../work/ops';
import type { Heap } from '../pixels/heap';
import { PIXEL } from '../pixels/kernels';
import { pyramidFor, pyramidSizes, type Pyramid } from '../pixels/pyramid';
import type { Layout, Rect } from '../pixels/picture';
import { inputsOf, PHOTO, slice, type Program, type Step, type Value } from './compile';
import { foldable } from './fold';
import { fused } from './fuse';
import { evenly, tileCount } from './tiles';
import { scratchBytes } from './workplace';
import {
  GROWN_TILE,
  ENOUGH_TILES,
  LOCAL_TILE,
  PLAIN_TILE,
  QUARTER_TILE,
  tileOf,
  WIDE_QUARTER_TILE,
  type Fold,
  type Level,
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

/** Memory for images below a change, and what it must have cost to be worth holding. */
const HELD_BYTES = 160e6;
const WORTH_HOLDING = 5;
const costOf = (step: Step): number => (step.do === 'point' ? (opOf(step.op).cost ?? 1) : step.do === 'fused' ? 2 : 1);

/** Kernels may write a few pixels past an image. */
const LEVEL_MARGIN = 256;

const quarterName = (from: Value, halving: 'soft' | 'firm'): string => `${from} ${halving}`;

function quarterTile(quarter: Level, mayBeWide: boolean): TileSize {
  const wide = evenly(quarter, WIDE_QUARTER_TILE);
  const many = tileCount({ x: 0, y: 0, w: quarter.width, h: quarter.height }, wide) >= ENOUGH_TILES;
  return mayBeWide && many ? wide : evenly(quarter, QUARTER_TILE);
}

interface Blurred extends Low {
  readonly bytes: number;
}

export interface Wanted {
  /** Where the picture goes; told whether pixels are made from their neighbours in the last pass. */
  readonly at: (blursLocally: boolean) => number;
  readonly format: StoreFormat;
  /** Size of the tiles of the last pass; what suits the caches, unless given. */
  readonly tile?: TileSize;
  /** The part of the picture that is written. */
  readonly area?: Rect;
  /** Whether images may be held in memory to save work, now and later. */
  readonly hold: boolean;
  /** Rows of the bands whose finish is to be told. */
  readonly band?: number;
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
  private readonly held = new Map<Value, number>();
  private readonly quarters = new Map<string, Level>();
  /** Values of the last program. */
  private last: ReadonlySet<Value> = new Set();
  private scratch: { at: number[]; bytes: number } = { at: [], bytes: 0 };

  /** @param keepBytes how much memory blurred images may hold that the latest plan does not use; 0 if nothing is to be kept of them. */
  constructor(
    private readonly heap: Heap,
    private readonly layout: Layout,
    private readonly at: number,
    private readonly noise: number,
    private readonly parts: number,
    private readonly keepBytes: number,
  ) {}

  /** A plan for a program. `done` is to be called when it was carried out, and tells whether it was finished. */
  plan(compiled: Program, wanted: Wanted): { plan: Plan; done: (finished: boolean) => void } {
    const folded = foldable(compiled.steps, this.layout);
    const program = fused(compiled, folded, this.layout);
    const used = new Set<Value>();
    const passes: Pass[] = [];
    const blurs = new Map(program.steps.filter((s): s is BlurStep => s.do === 'blur').map((s) => [s.to, s]));
    const bench = this.benchFor([...blurs.values()]);

    const held = this.heldFor(program, folded, wanted.hold);
    const stops = new Set([...blurs.keys(), ...folded, ...held.known]);

    const routeTo = (out: Value, extra: readonly Value[] = []): Route => {
      const locals = new Map<Value, LocalBlur>();
      const folds = new Map<Value, Fold>();
      const stepsTo = (values: readonly Value[]): Step[] => {
        const steps = slice(program.steps, values, stops);
        const reads = new Set([...values, ...steps.flatMap(inputsOf)]);
        [...reads].filter((v) => folded.has(v)).forEach((to) => folds.set(to, { to, steps: slice(compiled.steps, [to], new Set()) }));
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
      return { folds: [...folds.values()], locals: [...locals.values()], steps, out };
    };
    const grows = ({ steps, out }: Route): boolean => [out, ...steps.flatMap(inputsOf)].some((value) => blurs.has(value));
    const tileFor = (route: Route): TileSize => (route.locals.length > 0 ? LOCAL_TILE : grows(route) ? GROWN_TILE : PLAIN_TILE);
    const ensure = (blur: BlurStep): void => {
      if (used.has(blur.to)) return;
      used.add(blur.to);
      if (this.blurred.has(blur.to)) return;
      passes.push(this.reducePass(blur, () => routeTo(blur.from), grows, wanted.hold && this.keepBytes > 0, bench));
    };

    for (const value of held.wanted) {
      const at = this.heap.take(this.imageBytes);
      const route = routeTo(value);
      passes.push({ do: 'store', route, at, format: 'float', tile: tileFor(route) });
      this.held.set(value, at);
      stops.add(value);
    }
    const own = program.watched;
    const tally = wanted.tallies && own ? { ...own, at: wanted.tallies } : undefined;
    const route = routeTo(program.out, tally ? [tally.own, tally.beneath] : []);
    const tile = wanted.tile ?? tileFor(route);
    const to = wanted.at(route.locals.length > 0);
    const { format, band, area } = wanted;
    passes.push({ do: 'store', route, at: to, format, tile, ...(area && { area }), ...(band && { band }), ...(tally && { tally }) });

    const plan: Plan = {
      to,
      source: { at: this.at, layout: this.layout },
      tables: this.tablesFor(program),
      noise: this.noise,
      lows: Object.fromEntries([...used].map((v) => [v, this.blurred.get(v) as Blurred])),
      held: Object.fromEntries(this.held),
      passes,
      scratch: this.scratchFor(passes),
    };
    const reductions = passes.filter((pass) => pass.do === 'reduce');
    const inUse = new Set([...blurs.values()].flatMap(({ from }) => [quarterName(from, 'soft'), quarterName(from, 'firm')]));
    return {
      plan,
      done: (finished) => {
        this.tidy(bench, used, finished ? [] : reductions.map(({ to }) => to));
        const broken = finished ? [] : reductions.filter(({ made }) => !made).map(({ quarter }) => quarter.at);
        for (const [name, { at }] of this.quarters) if (!inUse.has(name) || broken.includes(at)) this.forgetQuarter(name, at);
        if (!finished) held.wanted.forEach((value) => this.letGo(value));
      },
    };
  }

  /** Gives everything back. */
  end(): void {
    [...this.tables.values(), ...this.scratch.at].forEach((at) => this.heap.release(at));
    [...this.blurred.values()].forEach(({ at }) => this.heap.release(at));
    [...this.held.values()].forEach((at) => this.heap.release(at));
    this.quarters.forEach(({ at }, name) => this.forgetQuarter(name, at));
    this.held.clear();
    [...this.pyramids.values()].forEach(({ tapsAt }) => this.heap.release(tapsAt));
    [this.tables, this.blurred, this.pyramids].forEach((map) => map.clear());
    this.scratch = { at: [], bytes: 0 };
  }

  private get imageBytes(): number {
    return this.layout.width * this.layout.height * PIXEL;
  }

  private forgetQuarter(name: string, at: number): void {
    this.heap.release(at);
    this.quarters.delete(name);
  }

  private letGo(value: Value): void {
    this.heap.release(this.held.get(value) as number);
    this.held.delete(value);
  }

  /**
   * Whole images that are worth holding. First, what this program shares with the last one and needs for what is new in it: while a fader of one layer
   * moves, that is the image below the layer. Second, what both a blur and the picture itself are made from. What this program has no use for is let go.
   */
  private heldFor(program: Program, folded: ReadonlySet<Value>, hold: boolean): { known: readonly Value[]; wanted: readonly Value[] } {
    const { steps } = program;
    const values = new Set(steps.map(({ to }) => to));
    [...this.held.keys()].filter((value) => !values.has(value)).forEach((value) => this.letGo(value));
    const known = [...this.held.keys()];
    const at = new Set([...known, ...this.blurred.keys()]);
    const needed = (step: Step): boolean => !this.last.has(step.to);
    const below = steps
      .filter(needed)
      .flatMap(inputsOf)
      .filter((value) => this.last.has(value));
    const forks = steps.filter((step) => step.do === 'blur' && !at.has(step.to)).flatMap((blur) => this.forksOf(program, blur as BlurStep, at));
    this.last = values;
    if (!hold) return { known, wanted: [] };
    const room = Math.floor(HELD_BYTES / this.imageBytes) - known.length;
    const dear = [...new Set([...below, ...forks])]
      .filter((value) => !folded.has(value) && !at.has(value) && steps.find(({ to }) => to === value)?.do !== 'blur')
      .map((value) => ({ value, cost: slice(steps, [value], at).reduce((sum, step) => sum + costOf(step), 0) }))
      .filter(({ cost }) => cost >= WORTH_HOLDING)
      .sort((a, b) => b.cost - a.cost);
    return {
      known,
      wanted: dear
        .slice(0, Math.max(0, room))
        .reverse()
        .map(({ value }) => value),
    };
  }

  /** Values that a blurred image is made from and that something besides it needs too, seen from the blur. */
  private forksOf({ steps }: Program, blur: BlurStep, at: ReadonlySet<Value>): Value[] {
    const inside = new Set(slice(steps, [blur.from], at).map(({ to }) => to));
    const leadsOut = (value: Value): boolean => steps.some((step) => inputsOf(step).includes(value) && !inside.has(step.to) && step.to !== blur.to);
    return [...inside].filter(leadsOut);
  }

  /** Room for the images on the way to a blurred one: passes run one after another, so the largest of them fits all. */
  private benchFor(blurs: readonly BlurStep[]): number | undefined {
    const global = blurs.filter(({ to, sigmaPx }) => !this.blurred.has(to) && this.pyramid(sigmaPx).factor >= GLOBAL_FACTOR);
    const bytes = global.map(({ sigmaPx }) => this.levels(sigmaPx).reduce((sum, level) => sum + level.bytes, 0));
    return bytes.length > 0 ? this.heap.take(Math.max(...bytes)) : undefined;
  }

  private levels(sigmaPx: number): { width: number; height: number; bytes: number }[] {
    const sizes = pyramidSizes(this.layout.width, this.layout.height, this.pyramid(sigmaPx).factor).slice(2);
    return sizes.map(({ width, height }) => ({ width, height, bytes: width * height * PIXEL + LEVEL_MARGIN }));
  }

  /**
   * How a blurred image is made. On the bench the quarter-size image that it goes through is kept: where only the radius changes, all before it is done.
   * @param bench room for what lies between, from there on.
   */
  private reducePass(blur: BlurStep, routeTo: () => Route, grows: (route: Route) => boolean, hold: boolean, bench = 0): ReducePass {
    const { factor, taps, tapsAt, weightsAt, origin } = this.pyramid(blur.sigmaPx);
    const sizes = this.levels(blur.sigmaPx);
    const [first, last] = [sizes[0], sizes.at(-1)];
    if (!first || !last) throw new Error('a blurred image needs a size');
    let spare = bench;
    const small = { at: this.heap.take(last.bytes), width: last.width, height: last.height };
    const rest = sizes.slice(1, -1).map(({ width, height, bytes }): Level => ({ at: (spare += bytes) - bytes, width, height }));
    const halving = sizes.length > 1 ? 'soft' : 'firm';
    const known = this.quarters.get(quarterName(blur.from, halving));
    const quarterAt = (): number => (hold ? this.heap.take(first.bytes) : sizes.length === 1 ? small.at : (spare += first.bytes) - first.bytes);
    const quarter = known ?? { at: quarterAt(), width: first.width, height: first.height };
    if (hold) this.quarters.set(quarterName(blur.from, halving), quarter);
    this.blurred.set(blur.to, { ...small, factor, origin, phases: weightsAt + 16 * factor, bytes: last.bytes });
    const route = known ? { folds: [], locals: [], steps: [], out: PHOTO } : routeTo();
    return {
      do: 'reduce',
      to: blur.to,
      route,
      quarter,
      halving,
      made: known !== undefined,
      tile: quarterTile(quarter, route.locals.length === 0 && !grows(route)),
      levels: sizes.length > 1 ? [...rest, small] : [],
      small,
      radius: taps.length - 1,
      taps: tapsAt,
      spare,
    };
  }

  /** After a plan: gives the bench back, and blurred images that nobody used lately, oldest first. */
  private tidy(bench: number | undefined, used: ReadonlySet<Value>, broken: readonly Value[]): void {
    if (bench !== undefined) this.heap.release(bench);
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
    const bytes = Math.max(...passes.map((pass) => (pass.do === 'warp' ? 0 : scratchBytes(pass.route, tileOf(pass), this.layout))));
    if (bytes > this.scratch.bytes) {
      this.scratch.at.forEach((at) => this.heap.release(at));
      this.scratch = { at: Array.from({ length: this.parts }, () => this.heap.take(bytes)), bytes };
    }
    return this.scratch.at;
  }
}
