import { filterOf } from '../../expressions/filters';
import type { Heap } from '../../pixels/heap';
import { PIXEL } from '../../pixels/kernels';
import type { Layout, Rect } from '../../pixels/picture';
import { inputsOf, slice, type Program, type Step, type Value } from '../../stack/program';
import { costOfAll } from '../../stack/cost';
import { bakeable } from './baked';
import { fused } from './fuse';
import { tileOf, type Pass, type Plan, type StoreFormat } from './plan';
import type { TileSize } from './tiles';
import { Reductions, type BlurStep } from './reductions';
import { Routes } from './routes';
import { Spilled, spillsFor } from './spills';
import { tablesBytes } from '../work/tables';
import { scratchBytes } from '../work/workplace';

/** Memory for images below a change, and what one must cost to be worth holding, in nanoseconds a pixel: more than reading it again. */
const HELD_BYTES = 160e6;
const WORTH_HOLDING = 6;

/** Steps whose results are already in memory. */
const MADE_APART: ReadonlySet<Step['do']> = new Set(['blur', 'picture']);

export interface Wanted {
  /** Returns where the picture is written; it is told whether the last pass makes pixels from their neighbours. */
  readonly at: (blursLocally: boolean) => number;
  readonly format: StoreFormat;
  /** Size of the tiles of the last pass; what suits the caches, unless given. */
  readonly tile?: TileSize;
  /** The part of the picture that is written. */
  readonly area?: Rect;
  /** Whether images may be held in memory to save work, now and later. */
  readonly hold: boolean;
  /** Height in rows of the bands whose end is reported. */
  readonly band?: number;
  /** Where each part counts tones: 2048 bytes each; needs a watched layer. */
  readonly histograms?: readonly number[];
  /** Where other photos lie that the program names. */
  readonly pictures?: Plan['pictures'];
}

/** What filters of pixels read and make. */
const byFilters = (blurs: Iterable<BlurStep>): Value[] => [...blurs].flatMap(({ by, from, to }) => (by ? [from, to] : []));

/** Scratch that the filter of a reduction needs. */
const reducing = (pass: Pass): number =>
  pass.do === 'reduce' && pass.filter ? filterOf(pass.filter).scratch(pass.small.width, pass.small.height) : 0;

/**
 * Turns programs into plans: decides what is blurred where, holds tables and blurred images in memory, and knows from one
 * plan to the next which of them still hold.
 */
export class Planner {
  private readonly tables = new Map<string, number>();
  private readonly reductions: Reductions;
  private readonly held = new Map<Value, number>();
  /** Values of the last program. */
  private last: ReadonlySet<Value> = new Set();
  private scratch: { at: number[]; bytes: number } = { at: [], bytes: 0 };

  constructor(
    private readonly heap: Heap,
    private readonly layout: Layout,
    private readonly at: number,
    private readonly noise: number,
    private readonly parts: number,
    keepBytes: number,
  ) {
    this.reductions = new Reductions(heap, layout, keepBytes);
  }

  /** Makes a plan for a program. Call `done` after it was carried out, with whether it was finished. */
  plan(compiled: Program, wanted: Wanted): { plan: Plan; done: (finished: boolean) => void } {
    const baked = bakeable(compiled.steps, this.layout);
    const program = fused(compiled, baked, this.layout);
    const blurs = program.steps.filter((step): step is BlurStep => step.do === 'blur');
    this.reductions.begin(blurs);
    const held = this.heldFor(program, baked, wanted.hold);
    const pictures = wanted.pictures ?? {};
    const routes = new Routes(
      this.layout,
      this.reductions,
      { compiled, program, baked, blurs },
      [...held.known, ...Object.keys(pictures).map(Number)],
      wanted.hold,
    );
    const spilled = this.storeImages(program, routes, held.wanted);
    const to = this.storePicture(program, routes, wanted);
    const { passes, used } = routes;
    const plan: Plan = {
      to,
      source: { at: this.at, layout: this.layout },
      tables: this.tablesFor(program),
      noise: this.noise,
      pictures,
      lows: this.reductions.lows(used),
      numbers: [...program.numbers, ...byFilters(blurs)],
      held: Object.fromEntries([...this.held, ...spilled.places]),
      passes,
      scratch: this.scratchFor(passes),
    };
    return {
      plan,
      done: (finished) => {
        const broken = finished ? [] : passes.filter((pass) => pass.do === 'reduce');
        this.reductions.done(blurs, used, broken);
        spilled.end();
        if (!finished) held.wanted.forEach((value) => this.letGo(value));
      },
    };
  }

  /** Passes that write whole images to memory: those that are worth holding, and those that would not fit beside others otherwise. */
  private storeImages(program: Program, routes: Routes, worthHolding: readonly Value[]): Spilled {
    const spills = spillsFor(program, new Set([...routes.stops, ...worthHolding]), this.layout, (step) => routes.isLocal(step));
    const spilled = new Spilled(this.heap, this.imageBytes, program, spills);
    for (const { to: value } of program.steps) {
      if (!worthHolding.includes(value) && !spilled.has(value)) continue;
      const route = routes.to([value]);
      const at = spilled.has(value) ? spilled.place(value) : this.heap.acquire(this.imageBytes);
      routes.passes.push({ do: 'store', route, at, format: 'float', tile: routes.tileFor(route) });
      if (!spilled.has(value)) this.held.set(value, at);
      routes.stops.add(value);
    }
    return spilled;
  }

  /** The last pass, which writes the picture. Returns where. */
  private storePicture({ out, watched }: Program, routes: Routes, { at, format, tile, area, band, histograms }: Wanted): number {
    const histogram = histograms && watched ? { ...watched, at: histograms } : undefined;
    const route = routes.to(histogram ? [out, histogram.own, histogram.beneath] : [out]);
    const to = at(route.locals.length > 0);
    routes.passes.push({
      do: 'store',
      route,
      at: to,
      format,
      tile: tile ?? routes.tileFor(route, area && { width: area.w, height: area.h }, band !== undefined),
      ...(area && { area }),
      ...(band && { band }),
      ...(histogram && { histogram }),
    });
    return to;
  }

  /** Releases everything. */
  end(): void {
    [...this.tables.values(), ...this.scratch.at].forEach((at) => this.heap.release(at));
    [...this.held.values()].forEach((at) => this.heap.release(at));
    this.reductions.end();
    this.held.clear();
    this.tables.clear();
    this.scratch = { at: [], bytes: 0 };
  }

  private get imageBytes(): number {
    return this.layout.width * this.layout.height * PIXEL;
  }

  private letGo(value: Value): void {
    this.heap.release(this.held.get(value) as number);
    this.held.delete(value);
  }

  /**
   * Whole images that are worth holding. First, what this program shares with the last one and needs for what is new in it: while a fader of one layer
   * moves, that is the image below the layer. Second, what both a blur and the picture itself are made from. What this program has no use for is let go.
   */
  private heldFor(program: Program, baked: ReadonlySet<Value>, hold: boolean): { known: readonly Value[]; wanted: readonly Value[] } {
    const { steps } = program;
    const values = new Set(steps.map(({ to }) => to));
    [...this.held.keys()].filter((value) => !values.has(value)).forEach((value) => this.letGo(value));
    let known = [...this.held.keys()];
    const at = new Set([...known, ...this.reductions.known]);
    const needed = (step: Step): boolean => !this.last.has(step.to);
    const below = steps
      .filter(needed)
      .flatMap(inputsOf)
      .filter((value) => this.last.has(value));
    this.last = values;
    if (!hold) return { known, wanted: [] };
    const forks = this.forks(program, at);
    const dear = [...new Set([...below, ...forks])]
      .filter((value) => !baked.has(value) && !at.has(value) && !MADE_APART.has(steps.find(({ to }) => to === value)?.do ?? 'point'))
      .map((value) => ({ value, cost: costOfAll(slice(steps, [value], at)) }))
      .filter(({ cost }) => cost >= WORTH_HOLDING)
      .sort((a, b) => b.cost - a.cost);
    const most = Math.floor(HELD_BYTES / this.imageBytes);
    // What was held for an earlier change makes room for what this one needs.
    const spare = known.filter((value) => !below.includes(value) && !forks.includes(value)).slice(0, Math.max(0, known.length + dear.length - most));
    spare.forEach((value) => this.letGo(value));
    known = known.filter((value) => !spare.includes(value));
    const room = most - known.length;
    return {
      known,
      wanted: dear
        .slice(0, Math.max(0, room))
        .reverse()
        .map(({ value }) => value),
    };
  }

  /** Returns the values that blurs are made from and that other steps read as well. */
  private forks({ steps }: Program, at: ReadonlySet<Value>): Value[] {
    const readers = new Map<Value, Step[]>();
    for (const step of steps) for (const value of inputsOf(step)) readers.set(value, [...(readers.get(value) ?? []), step]);
    const blurs = steps.filter((step): step is BlurStep => step.do === 'blur' && !at.has(step.to));
    return blurs.flatMap((blur) => {
      const inside = new Set(slice(steps, [blur.from], at).map(({ to }) => to));
      const leadsOut = (value: Value): boolean => (readers.get(value) ?? []).some(({ to }) => !inside.has(to) && to !== blur.to);
      return [...inside].filter(leadsOut);
    });
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
      const at = this.heap.acquire(table.byteLength);
      new Float32Array(this.heap.memory.buffer, at, table.length).set(table);
      this.tables.set(id, at);
    }
    return Object.fromEntries(this.tables);
  }

  private scratchFor(passes: readonly Pass[]): number[] {
    const most = Math.max(...passes.map((pass) => (pass.do === 'warp' ? 0 : scratchBytes(pass.route, tileOf(pass), this.layout, reducing(pass)))));
    const bytes = tablesBytes(passes, this.layout) + most;
    if (bytes > this.scratch.bytes) {
      this.scratch.at.forEach((at) => this.heap.release(at));
      this.scratch = { at: Array.from({ length: this.parts }, () => this.heap.acquire(bytes)), bytes };
    }
    return this.scratch.at;
  }
}
