import type { Heap } from '../../pixels/heap';
import { PIXEL } from '../../pixels/kernels';
import type { Layout } from '../../pixels/picture';
import { inputsOf, slice, type Program, type Step, type Value } from '../../stack/program';
import { costOfAll } from '../../stack/cost';

/** The largest image, in bytes, that is written down, and the least cost of making it again, in nanoseconds a pixel, that makes this worth while. Small ones are held where it matters already, by the planner. */
const WORTH: readonly { readonly bytes: number; readonly cost: number }[] = [
  { bytes: 64e6, cost: 150 },
  { bytes: 500e6, cost: 25 },
];
/** Blurs made in tiles, one out of the other, before an image is written down whatever its size: the rims that they read add up. */
const MOST_LOCAL = 6;

/**
 * Whole images that are written down on the way, in order: where layers meet, and what is read more than once. Every blur makes anew what it reads, from the last image
 * that is at hand: in stacks with several blurs that would be done over and over.
 * @param stops values that are at hand, and blurred ones.
 * @param isLocal whether a blur is made tile by tile.
 */
export function spillsFor({ steps }: Program, stops: ReadonlySet<Value>, layout: Layout, isLocal: (step: Step) => boolean): Value[] {
  const bytes = layout.width * layout.height * PIXEL;
  const worth = WORTH.find((it) => bytes <= it.bytes)?.cost ?? Infinity;
  const blurs = steps.filter(({ do: what }) => what === 'blur');
  const locals = blurs.filter(isLocal);
  if ((costOfAll(steps) < worth || blurs.length < 2) && locals.length <= MOST_LOCAL) return [];
  const read = readByBlurs(steps);
  const readers = new Map<Value, number>();
  for (const step of steps) for (const value of new Set(inputsOf(step))) readers.set(value, (readers.get(value) ?? 0) + 1);
  const at = new Set(stops);
  const deep = new Map<Value, number>();
  const spills: Value[] = [];
  for (const step of steps) {
    const below = Math.max(0, ...inputsOf(step).map((value) => deep.get(value) ?? 0));
    deep.set(step.to, below + (step.do === 'blur' && isLocal(step) ? 1 : 0));
    const whole = (step.do === 'mix' || (readers.get(step.to) ?? 0) > 1) && read.has(step.to) && !at.has(step.to);
    if (!whole || (below <= MOST_LOCAL && cost(steps, step.to, at, worth) < worth)) continue;
    at.add(step.to);
    spills.push(step.to);
    deep.set(step.to, 0);
  }
  return spills;
}

/** Returns the cost of making a value, in nanoseconds a pixel; 0, without counting, where no cost would be `enough`. */
function cost(steps: readonly Step[], value: Value, at: ReadonlySet<Value>, enough: number): number {
  if (enough === Infinity) return 0;
  return costOfAll(slice(steps, [value], at));
}

/** Returns the values that some blur depends on, directly or through other steps. */
function readByBlurs(steps: readonly Step[]): Set<Value> {
  const read = new Set<Value>();
  for (const step of [...steps].reverse()) if (step.do === 'blur' || read.has(step.to)) inputsOf(step).forEach((value) => read.add(value));
  return read;
}

/** Assigns memory to images that are written down on the way; an image takes the place of one that is not read any more. */
export class Spilled {
  readonly places = new Map<Value, number>();
  private readonly free: number[] = [];
  private readonly taken: number[] = [];
  /** The last of the images, or what comes after them all, that is made from each. */
  private readonly last: ReadonlyMap<Value, number>;

  constructor(
    private readonly heap: Heap,
    private readonly bytes: number,
    { steps, out, watched }: Program,
    private readonly values: readonly Value[],
  ) {
    const last = new Map<Value, number>();
    const readFor = (targets: readonly Value[], i: number): void => {
      // Blurs are followed to what they are made from.
      const have = new Set(values.filter((value) => !targets.includes(value)));
      const reads = [...targets, ...slice(steps, targets, have).flatMap(inputsOf)];
      reads.filter((value) => have.has(value)).forEach((value) => last.set(value, i));
    };
    values.forEach((value, i) => readFor([value], i));
    readFor([out, ...(watched ? [watched.own, watched.beneath] : [])], Infinity);
    this.last = last;
  }

  has(value: Value): boolean {
    return this.values.includes(value);
  }

  /** Acquires memory for the image that is made next. */
  place(value: Value): number {
    const i = this.values.indexOf(value);
    for (const [other, at] of this.places)
      if ((this.last.get(other) ?? -1) < i && !this.free.includes(at) && this.latest(at) === other) this.free.push(at);
    const at = this.free.pop() ?? this.heap.acquire(this.bytes);
    if (!this.taken.includes(at)) this.taken.push(at);
    this.places.set(value, at);
    return at;
  }

  /** Releases all memory. */
  end(): void {
    this.taken.forEach((at) => this.heap.release(at));
  }

  /** Returns the image that was last put into a place. */
  private latest(at: number): Value | undefined {
    return [...this.places].filter(([, place]) => place === at).at(-1)?.[0];
  }
}
