import type { Layout } from '../../pixels/picture';
import { opOf } from '../../expressions/ops';
import { inputsOf, PHOTO, slice, type Program, type Step, type Value } from '../../stack/program';
import { costOfAll, LOOK } from '../../stack/cost';
import { channelwise } from './baked';

/** Limits of what one table may combine, so that it stays accurate. */
const MOST = 6 * LOOK;

/**
 * The program with runs of steps on each channel alone, from one value to another, as single steps: a table says what each tone becomes. Values outside 0..1 and
 * runs that a table cannot tell closely are left to the steps themselves. `baked` values are at hand without any.
 */
export function fused(program: Program, baked: ReadonlySet<Value>, { channels }: Pick<Layout, 'channels'>): Program {
  if (channels !== 3) return program;
  const { steps } = program;
  // The value that each one comes from by a run; and those that something else than a run needs.
  const roots = new Map<Value, Value>([[PHOTO, PHOTO], ...[...baked].map((value) => [value, value] as const)]);
  const rootOf = (value: Value): Value => roots.get(value) as Value;
  const ends = new Map<Value, Value>();
  const wanted = new Set<Value>(wantedOf(program));
  const runTo = (value: Value, from: Value): Step[] => slice(steps, [value], new Set([from]));
  for (const step of steps) {
    if (baked.has(step.to)) continue;
    const [from, ...others] = new Set(inputsOf(step).map(rootOf));
    const goesOn = from !== undefined && others.length === 0 && channelwise(step);
    if (!goesOn) inputsOf(step).forEach((value) => wanted.add(value));
    else ends.set(step.to, from);
    // Where layers meet a long run may end, and another begin.
    const long = goesOn && step.do === 'mix' && costOfAll(runTo(step.to, from)) > MOST;
    if (long) wanted.add(step.to);
    roots.set(step.to, goesOn && !long ? from : step.to);
  }
  const shortened = steps.map((step): Step => {
    const from = ends.get(step.to);
    if (from === undefined || !wanted.has(step.to)) return step;
    const run = runTo(step.to, from);
    return costOfAll(run) > LOOK ? { do: 'fused', to: step.to, from, steps: run, alike: run.every(alike) } : step;
  });
  return { ...program, steps: slice(shortened, wantedOf(program), baked) };
}

const wantedOf = ({ out, watched }: Program): Value[] => [out, ...(watched ? [watched.own, watched.beneath] : [])];

/** Returns whether a step treats all channels alike. */
const alike = (step: Step): boolean => step.do !== 'point' || opOf(step.op).channelwise === 'alike';
