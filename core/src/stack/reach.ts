import type { FilmPlace } from '../geometry/shape';
import { compile } from './compile';
import { filterOf } from '../expressions/filters';
import { inputsOf, ValueNumbers, type Step, type Value } from './program';
import type { Stack } from './schema';

/** How far a Gaussian reaches, in standard deviations, and what halving and growing back add at most, in the same. */
const GAUSSIAN = 4.5;
/** A part begins at a multiple of this, so that halving falls on the same pixels as it does in the whole picture. */
export const GRID = 64;

/** How many pixels beyond a part of the picture a stack must read to make it, walked back through its layers. */
export function reachOf(stack: Stack, place: FilmPlace): number {
  const { steps, out } = compile(stack, place, new ValueNumbers());
  const reach = new Map<Value, number>();
  for (const step of steps) {
    const before = Math.max(0, ...inputsOf(step).map((value) => reach.get(value) ?? 0));
    reach.set(step.to, step.do === 'blur' ? before + reachOfBlur(step) : before);
  }
  return reach.get(out) ?? 0;
}

function reachOfBlur({ sigmaPx, by }: Extract<Step, { do: 'blur' }>): number {
  if (!by) return Math.ceil(GAUSSIAN * sigmaPx) + 8;
  const { factor, reach } = filterOf(by.filter);
  const times = factor(by.numbers);
  return times * (reach(by.numbers, times) + 4) + 8;
}
