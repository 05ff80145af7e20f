import { mixName } from '../../kernels/reference';
import { PIXEL, type Kernels } from '../pixels/kernels';
import { bytesPerPixel } from '../pixels/picture';
import { opOf } from '../work/ops';
import { inputsOf, PHOTO, type Step, type Value } from './compile';
import { CHUNK, type Low, type Plan } from './plan';

/** An image that is at hand: grown from a small one whose first pixel stands for (x, y) of the picture, what bytes of the photo become by a table, or taken as it is. */
export type Leaf =
  | ({ readonly as: 'low'; readonly x: number; readonly y: number } & Low)
  | { readonly as: 'folded'; readonly at: number }
  | { readonly as: 'tile'; readonly x: number; readonly y: number; readonly at: number; readonly stride: number };

type Act = (x: number, y: number, n: number, target: number) => void;

/** Slot address that stands for the target of a run. */
const TARGET = 0;
const SLOT = (CHUNK + 4) * PIXEL;
/** Scratch of a row machine besides its slots: amounts of a chunk, a line for growing, and two more slots for straight colour. */
const AMOUNTS = (CHUNK + 4) * 4;
const LINE = (CHUNK + 16) * PIXEL;

/**
 * Runs steps over chunks of a row: every step goes over a chunk while it is in the nearest cache. A machine is made once for a
 * pass; running it makes no garbage.
 */
export class RowMachine {
  private readonly acts: Act[] = [];
  private readonly slots = new Map<Value, number>();
  private readonly free: number[] = [];
  private top: number;

  /**
   * @param scratch first of `RowMachine.bytes(steps.length)` bytes that are its own.
   * @param leaves images at hand; filled in before a run, read at each run.
   * @param kept values besides `out` that can be looked up by `at` after a run.
   */
  constructor(
    private readonly plan: Plan,
    private readonly kernels: Kernels,
    private readonly scratch: number,
    steps: readonly Step[],
    private readonly out: Value,
    private readonly leaves: ReadonlyMap<Value, Leaf>,
    kept: readonly Value[] = [],
  ) {
    this.top = scratch + AMOUNTS + LINE + 2 * SLOT;
    const uses = new Map<Value, number>();
    steps.forEach((step) => inputsOf(step).forEach((v) => uses.set(v, (uses.get(v) ?? 0) + 1)));
    const lasting = new Set([out, ...kept]);
    const made = new Set<Value>();
    const ready = (v: Value): void => {
      if (made.has(v)) return;
      made.add(v);
      this.acts.push(this.fetch(v, this.slotFor(v)));
    };
    for (const step of steps) {
      inputsOf(step).forEach(ready);
      const from = inputsOf(step).map((v) => this.slots.get(v) as number);
      for (const v of inputsOf(step)) {
        uses.set(v, (uses.get(v) as number) - 1);
        if (uses.get(v) === 0 && !lasting.has(v)) this.free.push(this.slots.get(v) as number);
      }
      made.add(step.to);
      this.acts.push(this.act(step, from, this.slotFor(step.to)));
    }
    lasting.forEach(ready);
  }

  /** Bytes of scratch for a machine of so many steps. */
  static bytes(steps: number): number {
    return AMOUNTS + LINE + (steps + 6) * SLOT;
  }

  /** Makes n pixels (up to CHUNK) from (x, y), inside the picture, and writes the result at `target`. */
  run(x: number, y: number, n: number, target: number): void {
    for (const act of this.acts) act(x, y, n, target);
  }

  /** Where a kept value lies after a run with that target. */
  at(value: Value, target: number): number {
    return this.slots.get(value) || target;
  }

  private slotFor(value: Value): number {
    const slot = value === this.out ? TARGET : (this.free.pop() ?? this.newSlot());
    this.slots.set(value, slot);
    return slot;
  }

  private newSlot(): number {
    const slot = this.top;
    this.top += SLOT;
    return slot;
  }

  private fetch(value: Value, to: number): Act {
    const k = this.kernels;
    if (value === PHOTO && !this.leaves.has(PHOTO)) return this.load(to);
    const { source } = this.plan;
    const bytes = bytesPerPixel(source.layout);
    const folded = source.layout.depth === 8 ? k.loadFolded : k.loadFoldedDeep;
    const line = this.scratch + AMOUNTS;
    const leafOf = (): Leaf => {
      const leaf = this.leaves.get(value);
      if (!leaf) throw new Error(`value ${value} is not at hand`);
      return leaf;
    };
    return (x, y, n, target) => {
      const leaf = leafOf();
      if (leaf.as === 'tile') k.copy(to || target, leaf.at + ((y - leaf.y) * leaf.stride + x - leaf.x) * PIXEL, n);
      else if (leaf.as === 'folded') folded(to || target, source.at + (y * source.layout.width + x) * bytes, n, leaf.at);
      else if (leaf.factor <= 4)
        (leaf.factor === 2 ? k.growTwice : k.growFourfold)(
          to || target,
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
      else k.grow(to || target, leaf.at, leaf.width, leaf.height, leaf.factor, leaf.origin, leaf.weights, x - leaf.x, y - leaf.y, n, line);
    };
  }

  private load(to: number): Act {
    const { at, layout } = this.plan.source;
    const k = this.kernels;
    const load = { '3-8': k.loadRgb8, '4-8': k.loadRgba8, '3-16': k.loadRgb16, '4-16': k.loadRgba16 }[`${layout.channels}-${layout.depth}` as const];
    const bytes = bytesPerPixel(layout);
    return (x, y, n, target) => load(to || target, at + (y * layout.width + x) * bytes, n);
  }

  private point(step: Extract<Step, { do: 'point' }>, a: number, b: number, to: number): Act {
    const k = this.kernels;
    const { alpha, bind } = opOf(step.op);
    const run = bind(k, step.numbers, step.table === undefined ? 0 : (this.plan.tables[step.table] as number), this.scratch + AMOUNTS);
    if (alpha === 'own' || this.plan.source.layout.channels === 3) return (x, y, n, target) => run(to || target, a || target, b || target, n, x, y);
    const [first, second] = [this.scratch + AMOUNTS + LINE, this.scratch + AMOUNTS + LINE + SLOT];
    return (x, y, n, target) => {
      if (alpha.straight[0]) k.part(first, a || target, n);
      if (alpha.straight[1]) k.part(second, b || target, n);
      run(to || target, alpha.straight[0] ? first : a || target, alpha.straight[1] ? second : b || target, n, x, y);
      if (alpha.gives) k.unite(to || target, to || target, n);
    };
  }

  private act(step: Step, [a = 0, b = 0]: readonly number[], to: number): Act {
    const k = this.kernels;
    const opaque = this.plan.source.layout.channels === 3;
    const table = (id: string): number => this.plan.tables[id] as number;
    switch (step.do) {
      case 'point':
        return this.point(step, a, b, to);
      case 'fade':
        return (_x, _y, n, target) => k.fade(to || target, a || target, b || target, n, step.t);
      case 'mix': {
        const mix = k[mixName(step.mode, opaque)];
        const gate = opaque ? k.gate : k.gateAlpha;
        const { strength, own, beneath } = step;
        if (!own && !beneath) return (_x, _y, n, target) => mix(to || target, a || target, b || target, n, strength, 0, 0);
        const amounts = this.scratch;
        return (_x, _y, n, target) => {
          k.level(amounts, n, strength);
          if (own) gate(amounts, b || target, n, table(own));
          if (beneath) gate(amounts, a || target, n, table(beneath));
          mix(to || target, a || target, b || target, n, strength, amounts, 0);
        };
      }
      case 'blur':
        throw new Error('a blur is made before its rows');
    }
  }
}
