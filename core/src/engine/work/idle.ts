import type { Kernels } from '../../pixels/kernels';
import { opOf } from '../../expressions/ops';
import { costOfAll } from '../../stack/cost';
import { inputsOf, type Step, type Value } from '../../stack/program';

/** What is made for one step alone: a value, and the steps and images at hand that lead to nothing else. */
export interface Side {
  readonly value: Value;
  readonly steps: ReadonlySet<Step>;
  readonly leaves: ReadonlySet<Value>;
}

/** What counts nowhere along a chunk where coverage is the same all over it. */
export interface Idle {
  /** The coverage. */
  readonly by: Value;
  /** Left out where it is 0. */
  readonly none: Side;
  /** Left out where it is 1. */
  readonly all?: Side;
}

/** What must be left out to be worth a look at the coverage, in nanoseconds a pixel. */
const WORTH = 6;
/** To grow a blurred image back, or to fetch it. */
const LEAF = 4;

/** The coverage by which a step lets a value through, and what it lets through where that is 1. */
function gated(step: Step, opaque: boolean): { by: Value; none: Value; all?: Value } | undefined {
  if (step.do === 'point') {
    const [none, by] = step.from;
    return opOf(step.op).nothingByNone && none !== undefined && by !== undefined ? { by, none } : undefined;
  }
  if (step.do !== 'mix' || step.mask === undefined) return undefined;
  const { mask: by, over: none, under } = step;
  const whole = opaque && step.mode === 'normal' && step.strength === 1 && !step.own && !step.beneath;
  return { by, none, ...(whole && { all: under }) };
}

/**
 * What may be left out of a chunk, by the step that lets it through. Steps that are worth no look are not in it.
 * @param lasting values that are wanted besides.
 */
export function idleSteps(steps: readonly Step[], lasting: ReadonlySet<Value>, opaque: boolean): ReadonlyMap<Step, Idle> {
  const readers = new Map<Value, Step[]>();
  for (const step of steps) for (const value of inputsOf(step)) readers.set(value, [...(readers.get(value) ?? []), step]);
  const made = new Set(steps.map(({ to }) => to));
  const sideOf = (value: Value, step: Step): Side => {
    const own = new Set<Step>();
    const once = inputsOf(step).filter((input) => input === value).length === 1;
    /** Whether it is read on the way to this value only. */
    const alone = (it: Value): boolean =>
      once && !lasting.has(it) && (readers.get(it) ?? []).every((reader) => own.has(reader) || (reader === step && it === value));
    for (const other of steps.slice(0, steps.indexOf(step)).reverse()) if (readers.has(other.to) && alone(other.to)) own.add(other);
    const leaves = new Set([value, ...[...own].flatMap(inputsOf)].filter((it) => !made.has(it) && alone(it)));
    return { value, steps: own, leaves };
  };
  const worth = (side: Side | undefined): boolean => side !== undefined && costOfAll([...side.steps]) + LEAF * side.leaves.size >= WORTH;
  const idle = new Map<Step, Idle>();
  for (const step of steps) {
    const gate = gated(step, opaque);
    if (!gate) continue;
    const none = sideOf(gate.none, step);
    const all = gate.all === undefined ? undefined : sideOf(gate.all, step);
    if (worth(none) || worth(all)) idle.set(step, { by: gate.by, none, ...(all && { all }) });
  }
  return idle;
}

/** Does a step to n pixels from (x, y). */
export type Act = (x: number, y: number, n: number) => void;

/** Where a step finds its inputs and its coverage, and where it puts what it makes: places of a list of addresses. */
interface Wiring {
  readonly from: readonly number[];
  readonly to: number;
  readonly by: number;
  readonly at: readonly number[];
}

/** A step by coverage, without what counts nowhere along a chunk. @param sides what is done for either alone. */
export function sparing(
  step: Step,
  act: Act,
  { from: [a = 0, b = 0], to, by, at }: Wiring,
  { none, all }: { readonly none: readonly Act[]; readonly all: readonly Act[] },
  k: Kernels,
): Act {
  const mixes = step.do === 'mix';
  const whole = all.length > 0;
  return (x, y, n) => {
    const nothing = k.holds(at[by] as number, n, 0);
    const everything = whole && !nothing && k.holds(at[by] as number, n, 1);
    if (!nothing) for (const one of none) one(x, y, n);
    if (!everything) for (const one of all) one(x, y, n);
    if (everything) k.copy(at[to] as number, at[b] as number, n);
    else if (!nothing) act(x, y, n);
    else if (mixes) k.copy(at[to] as number, at[a] as number, n);
    else k.level(at[to] as number, 4 * n, 0);
  };
}
