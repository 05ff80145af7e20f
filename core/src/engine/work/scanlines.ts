import { mixName } from '../../../kernels/reference';
import { PIXEL, type Kernels } from '../../pixels/kernels';
import { bytesPerPixel, type Layout } from '../../pixels/picture';
import { opOf } from '../../expressions/ops';
import { idleSteps, sparing, type Act, type Side } from './idle';
import { Bands } from './row-bands';
import { inputsOf, PHOTO, type FusedStep, type Step, type Value } from '../../stack/program';
import { PixelFormats, rowOf, sizeOf, usesOf, vectorsOf, type PixelFormat, type Row } from '../plan/pixel-format';
import { loading } from './loading';
import { CHUNK, type Low, type Plan } from '../plan/plan';

/**
 * An image that is at hand: a small one that is grown by 4 or more; one of half size whose first pixel stands for (x, y) of the picture; what bytes of the photo become by a table, by one of `pairs` of them, or by parabolas, the `bends`; or rows as they are, `stride` bytes apart.
 */
export type Leaf =
  | ({ readonly as: 'low' } & Low)
  | {
      readonly as: 'half';
      readonly pixelFormat: PixelFormat;
      readonly x: number;
      readonly y: number;
      readonly at: number;
      readonly width: number;
      readonly height: number;
      readonly origin: number;
      readonly weights: number;
    }
  /** A picture as large as what is made, in the bytes of a layout. */
  | { readonly as: 'bytes'; readonly at: number; readonly layout: Layout }
  | { readonly as: 'baked'; readonly at: number; readonly by: 'table' | 'pairs' | 'bends' }
  | { readonly as: 'tile'; readonly pixelFormat: PixelFormat; readonly x: number; readonly y: number; readonly at: number; readonly stride: number };

/** The place that a run's target has among the slots. */
const TARGET = 0;
/** Rounds a size so that slots begin at addresses that differ modulo 4096: processors mistake addresses that agree there for the same. */
const room = (bytes: number): number => Math.ceil(bytes / 1024) * 1024;
const SLOT = room((CHUNK + 4) * PIXEL);
/** Scratch of a scanline renderer besides its slots: coverage of a chunk, a line for growing, two slots for straight colour, and one for what `made` returns. */
const COVERAGE = room((CHUNK + 4) * 4);
const LINE = room((CHUNK + 16) * PIXEL);

export interface Ways {
  /** Whether rows must be pixels; what suits the steps, unless given. */
  readonly pixelFormat?: 'rgba';
  /** Values besides the last one that can be looked up by `addressOf` after a run; then all rows are pixels. */
  readonly kept?: readonly Value[];
  /** Returns where the table of a fused step lies; undefined where it would not be accurate enough. */
  readonly fusedAt?: (step: FusedStep) => number | undefined;
}

/**
 * Runs steps over chunks of a row: every step goes over a chunk while it is in the nearest cache. A machine is made once for a
 * pass; running it makes no garbage.
 */
export class Scanlines {
  /** Of what it makes. */
  readonly pixelFormat: PixelFormat;
  /** What is done, one after another; while it is put together, that of the innermost part that may be left out. */
  private acts: Act[] = [];
  /** Place of each row, and the address at each place: of a slot, or of rows that lie ready elsewhere. */
  private readonly places = new Map<Row, number>();
  private readonly at: number[] = [TARGET];
  private readonly free: number[] = [];
  private top: number;
  private until = Infinity;
  private readonly out: Row;
  private readonly fusedAt: (step: FusedStep) => number | undefined;

  /**
   * @param scratch first of `Scanlines.bytes(steps, out)` bytes that are its own.
   * @param leaves images at hand: `low` ones from the start, all others filled in before a run; read at each run.
   */
  constructor(
    private readonly plan: Plan,
    private readonly kernels: Kernels,
    private readonly scratch: number,
    steps: readonly Step[],
    out: Value,
    private readonly leaves: ReadonlyMap<Value, Leaf>,
    { pixelFormat, kept = [], fusedAt = () => undefined }: Ways = {},
  ) {
    const formats = new PixelFormats(steps, plan.source.layout.channels === 3 && pixelFormat !== 'rgba' && kept.length === 0, plan.numbers);
    this.pixelFormat = formats.ofValue(out);
    this.out = rowOf(out, this.pixelFormat);
    this.fusedAt = fusedAt;
    this.top = scratch + COVERAGE + LINE + 3 * SLOT;
    const lasting = new Set([this.out, ...kept.map((value) => rowOf(value, 'rgba'))]);
    const uses = usesOf(steps, formats);
    const used = (row: Row): void => {
      const left = (uses.get(row) as number) - 1;
      uses.set(row, left);
      if (left === 0 && !lasting.has(row)) this.free.push(this.places.get(row) as number);
    };
    const made = new Set<Row>();
    const ready = (value: Value, wanted: PixelFormat): void => {
      const row = rowOf(value, wanted);
      if (made.has(row)) return;
      made.add(row);
      const first = formats.ofValue(value);
      if (wanted !== first) {
        ready(value, first);
        this.acts.push(this.bringOver(this.places.get(rowOf(value, first)) as number, this.placeFor(row)));
        return used(rowOf(value, first));
      }
      if (value === PHOTO && !leaves.has(PHOTO)) {
        this.acts.push(this.load(wanted, this.placeFor(row)));
        return;
      }
      // Its rows may be where they are: nothing else is to be written there, neither later nor, in the next run, before.
      lasting.add(row);
      this.acts.push(this.fetch(value, wanted, this.placeFor(row, this.newPlace)));
    };
    const idle = idleSteps(steps, new Set([out, ...kept]), plan.source.layout.channels === 3);
    /** The part that each step is in, the innermost of them: that of the step that comes first. */
    const parts = new Map<Step, Side>();
    for (const { none, all } of idle.values())
      for (const side of [none, ...(all ? [all] : [])]) for (const step of side.steps) if (!parts.has(step)) parts.set(step, side);
    /** Makes a part that may be left out: its own acts. What it reads of elsewhere is ready before. */
    const apart = (side: Side, runs: PixelFormat): readonly Act[] => {
      const outer = this.acts;
      this.acts = [];
      steps.filter((step) => parts.get(step) === side).forEach(make);
      ready(side.value, runs);
      const acts = this.acts;
      this.acts = outer;
      return acts;
    };
    const readyFor = (side: Side, runs: PixelFormat): void => {
      const own = new Set([...side.leaves, ...[...side.steps].map(({ to }) => to)]);
      if (!own.has(side.value)) ready(side.value, runs);
      for (const step of side.steps) for (const value of inputsOf(step)) if (!own.has(value)) ready(value, formats.ofStep(step));
    };
    const make = (step: Step): void => {
      const runs = formats.ofStep(step);
      const way = idle.get(step);
      if (way) {
        readyFor(way.none, runs);
        if (way.all) readyFor(way.all, runs);
        ready(way.by, runs);
      }
      const sides = way && { none: apart(way.none, runs), all: way.all ? apart(way.all, runs) : [] };
      inputsOf(step).forEach((value) => ready(value, runs));
      const inputs = inputsOf(step).map((value) => rowOf(value, runs));
      const from = inputs.map((row) => this.places.get(row) as number);
      const to = rowOf(step.to, runs);
      made.add(to);
      // A fused step may have to read its input again when it has written.
      const early = step.do === 'fused' ? this.placeFor(to) : undefined;
      inputs.forEach(used);
      const place = early ?? this.placeFor(to);
      const act = this.act(step, runs, from, place);
      const by = way && (this.places.get(rowOf(way.by, runs)) as number);
      this.acts.push(sides && by !== undefined ? sparing(step, act, { from, to: place, by, at: this.at }, sides, kernels) : act);
    };
    steps.filter((step) => !parts.has(step)).forEach(make);
    ready(out, this.pixelFormat);
    kept.forEach((value) => ready(value, 'rgba'));
  }

  /** Bytes of scratch for a machine of such steps. */
  static bytes(steps: readonly Step[], out: Value): number {
    const made = new Set(steps.map(({ to }) => to));
    const leaves = new Set([out, ...steps.flatMap(inputsOf)].filter((value) => !made.has(value)));
    const inner = steps.reduce((sum, step) => sum + (step.do === 'fused' ? step.steps.length : 0), 0);
    return COVERAGE + LINE + (2 * (leaves.size + steps.length) + inner + 4) * SLOT + leaves.size * Bands.bytes;
  }

  /** Promises that rows from `until` on will not be asked for. */
  begin(until: number): void {
    this.until = until;
  }

  /** Makes n pixels (up to CHUNK) from (x, y), inside the picture, and writes the result at `target`. */
  run(x: number, y: number, n: number, target: number): void {
    this.at[TARGET] = target;
    for (const act of this.acts) act(x, y, n);
    const at = this.at[TARGET];
    if (at !== target) this.kernels.copy(target, at, vectorsOf(this.pixelFormat, n));
  }

  /** Makes n pixels from (x, y) and tells where they lie until the next run. */
  made(x: number, y: number, n: number): number {
    this.at[TARGET] = this.scratch + COVERAGE + LINE + 2 * SLOT;
    for (const act of this.acts) act(x, y, n);
    return this.at[TARGET];
  }

  /** Where a kept value lies after a run. */
  addressOf(value: Value): number {
    return this.at[this.places.get(rowOf(value, 'rgba')) as number] as number;
  }

  private placeFor(row: Row, take = (): number => this.free.pop() ?? this.newPlace()): number {
    const place = row === this.out ? TARGET : take();
    this.places.set(row, place);
    return place;
  }

  private readonly newPlace = (): number => {
    this.top += SLOT;
    return this.at.push(this.top - SLOT) - 1;
  };

  /** Pixels to RGB rows. */
  private bringOver(from: number, to: number): Act {
    const { kernels: k, at } = this;
    return (_x, _y, n) => k.rgbRows(at[to] as number, at[from] as number, n);
  }

  private fetch(value: Value, pixelFormat: PixelFormat, to: number): Act {
    const { kernels: k, at, leaves } = this;
    const { source } = this.plan;
    const bytes = bytesPerPixel(source.layout);
    const bake =
      source.layout.depth === 8
        ? { table: k.bakeRgbRows8, pairs: k.bakePairs8, bends: k.bakeBends8 }
        : { table: k.bakeRgbRows16, pairs: k.bakeRgbRows16, bends: k.bakeBends16 };
    const line = this.scratch + COVERAGE;
    const slot = at[to] as number;
    const known = leaves.get(value);
    if (known?.as === 'bytes') {
      const load = loading(k, known.layout, 'rgba');
      const size = bytesPerPixel(known.layout);
      return (x, y, n) => {
        if (to !== TARGET) at[to] = slot;
        load(at[to] as number, known.at + (y * known.layout.width + x) * size, n);
      };
    }
    if (known?.as === 'low') {
      const bands = new Bands(k, known, this.roomForBands(), pixelFormat);
      return (x, y, n) => void (at[to] = bands.row(x, y, n, this.until));
    }
    return (x, y, n) => {
      const leaf = leaves.get(value);
      if (to !== TARGET) at[to] = slot;
      const d = at[to] as number;
      if (leaf?.as === 'tile') {
        const s = leaf.at + (y - leaf.y) * leaf.stride + (x - leaf.x) * sizeOf(leaf.pixelFormat);
        if (leaf.pixelFormat === pixelFormat) at[to] = s;
        else if (pixelFormat === 'rgba') k.opaque(d, s, n);
        else k.rgbRows(d, s, n);
        return;
      }
      if (leaf?.as === 'baked') {
        const s = source.at + (y * source.layout.width + x) * bytes;
        bake[leaf.by](d, s, n, leaf.at);
      } else if (leaf?.as === 'half')
        (leaf.pixelFormat === 'rgb' ? k.growRgbRowsTwice : k.growTwice)(
          d,
          leaf.at,
          leaf.width,
          leaf.height,
          leaf.origin,
          leaf.weights,
          x - leaf.x,
          y - leaf.y,
          n,
          line,
        );
      else throw new Error(`value ${value} is not at hand`);
      // Folded bytes are those of an opaque photo.
      if (pixelFormat === 'rgba' && (leaf.as === 'baked' || leaf.pixelFormat === 'rgb')) k.opaque(d, d, n);
    };
  }

  private roomForBands(): number {
    this.top += Bands.bytes;
    return this.top - Bands.bytes;
  }

  private load(pixelFormat: PixelFormat, to: number): Act {
    const { at: photo, layout } = this.plan.source;
    const { at } = this;
    const load = loading(this.kernels, layout, pixelFormat);
    const bytes = bytesPerPixel(layout);
    return (x, y, n) => load(at[to] as number, photo + (y * layout.width + x) * bytes, n);
  }

  private point(step: Extract<Step, { do: 'point' }>, pixelFormat: PixelFormat, a: number, b: number, to: number): Act {
    const { kernels: k, at } = this;
    const { takes, gives, premultiplied = false, bind, rgbRows } = opOf(step.op);
    const table = step.table === undefined ? 0 : (this.plan.tables[step.table] as number);
    const run = ((pixelFormat === 'rgb' && rgbRows) || bind)(k, step.numbers, table, this.scratch + COVERAGE);
    if (premultiplied || this.plan.source.layout.channels === 3) return (x, y, n) => run(at[to] as number, at[a] as number, at[b] as number, n, x, y);
    const [first, second] = [this.scratch + COVERAGE + LINE, this.scratch + COVERAGE + LINE + SLOT];
    return (x, y, n) => {
      const d = at[to] as number;
      const [one, two] = [takes[0] === 'colour' ? first : (at[a] as number), takes[1] === 'colour' ? second : (at[b] as number)];
      if (takes[0] === 'colour') k.part(first, at[a] as number, n);
      if (takes[1] === 'colour') k.part(second, at[b] as number, n);
      run(d, one, two, n, x, y);
      if (gives === 'colour') k.unite(d, d, n);
    };
  }

  private act(step: Step, pixelFormat: PixelFormat, [a = 0, b = 0, c = 0]: readonly number[], to: number): Act {
    const { kernels: k, at } = this;
    const opaque = this.plan.source.layout.channels === 3;
    const table = (id: string): number => this.plan.tables[id] as number;
    // Kernels that mind no alpha take a row of RGB rows as so many vectors.
    const rgbRows = pixelFormat === 'rgb';
    const count = (n: number): number => (rgbRows ? vectorsOf('rgb', n) : n);
    switch (step.do) {
      case 'point':
        return this.point(step, pixelFormat, a, b, to);
      case 'fade':
        return (_x, _y, n) => k.fade(at[to] as number, at[a] as number, at[b] as number, count(n), step.t);
      case 'mix': {
        const mix = k[mixName(step.mode, opaque)];
        const gate = opaque ? k.gate : k.gateAlpha;
        const { strength, own, beneath, mask, inside = false, weights: [red, green, blue] = [0, 0, 0] } = step;
        const last = rgbRows ? strength : 0;
        if (!own && !beneath && mask === undefined)
          return (_x, _y, n) => mix(at[to] as number, at[a] as number, at[b] as number, count(n), strength, 0, last, inside);
        const coverage = this.scratch;
        return (_x, _y, n) => {
          k.level(coverage, n, strength);
          if (mask !== undefined) k.lets(coverage, at[c] as number, n);
          if (own) gate(coverage, at[b] as number, n, table(own), red, green, blue);
          if (beneath) gate(coverage, at[a] as number, n, table(beneath), red, green, blue);
          mix(at[to] as number, at[a] as number, at[b] as number, n, strength, coverage, 0, inside);
        };
      }
      case 'fused':
        return this.fused(step, pixelFormat, a, to);
      case 'picture':
      case 'blur':
        throw new Error('a blur is made before its rows');
    }
  }

  /** By the table, and step by step where values lie outside it: each by itself alone, whatever lies beside it. */
  private fused(step: FusedStep, pixelFormat: PixelFormat, a: number, to: number): Act {
    const { kernels: k, at } = this;
    const table = this.fusedAt(step);
    const byStep = table === undefined ? to : this.newPlace();
    const inside = new Map([[step.from, a]]);
    const acts = step.steps.map((each) => {
      const place = each.to === step.to ? byStep : this.newPlace();
      const from = inputsOf(each).map((value) => inside.get(value) as number);
      inside.set(each.to, place);
      return this.act(each, pixelFormat, from, place);
    });
    const curve = pixelFormat === 'rgb' ? k.curveRgbRows : step.alike ? k.curve : k.curves;
    return (x, y, n) => {
      const [d, s] = [at[to] as number, at[a] as number];
      if (table !== undefined && curve(d, s, n, table)) return;
      for (const act of acts) act(x, y, n);
      if (table !== undefined) k.choose(d, s, d, at[byStep] as number, vectorsOf(pixelFormat, n));
    };
  }
}
