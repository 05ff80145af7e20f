import { modeOf } from '../blend';
import type { Layout } from '../pixels/picture';
import { opOf } from '../work/ops';
import { inputsOf, PHOTO, slice, type Step, type Value } from './compile';

/** Steps that a load through a table costs about as much as. A tone curve counts as several plain ones. */
const WORTH = 2;
const cost = (step: Step): number => (step.do === 'point' && step.op !== 'affine' ? 4 : 1);

/**
 * The values of a program that come from each byte of an opaque 8-bit photo alone, channel by channel: 256 greys tell all about
 * them, so a load through a table replaces however many steps there are. Exact, since a table's entries are made by the same kernels.
 */
export function foldable(steps: readonly Step[], { depth, channels }: Layout): Set<Value> {
  if (depth !== 8 || channels !== 3) return new Set();
  const folded = new Set<Value>([PHOTO]);
  for (const step of steps) if (channelwise(step) && inputsOf(step).every((value) => folded.has(value))) folded.add(step.to);
  folded.delete(PHOTO);
  for (const value of folded) if (slice(steps, [value], new Set()).reduce((sum, step) => sum + cost(step), 0) < WORTH) folded.delete(value);
  return folded;
}

function channelwise(step: Step): boolean {
  if (step.do === 'mix') return !step.own && !step.beneath && modeOf(step.mode).by === 'channel';
  return step.do === 'fade' || (step.do === 'point' && opOf(step.op).channelwise === true);
}
