import { modeOf } from '../../blend';
import type { Layout } from '../../pixels/picture';
import { opOf } from '../../expressions/ops';
import { inputsOf, PHOTO, slice, type Step, type Value } from '../../stack/program';
import { costOfAll } from '../../stack/cost';

/** Extra cost of loading through a table instead of directly, in nanoseconds a pixel. */
const WORTH = 0.7;
/** How many times a table is made: once by every worker, of which there are about two. */
const MAKINGS = 2;

/** Returns how many values a channel of a file can have. */
export const greysOf = ({ depth }: Pick<Layout, 'depth'>): number => 1 << depth;

/**
 * The values of a program that come from each value of an opaque photo's channels alone: so many greys tell all about them, so a load
 * through a table replaces however many steps there are. Exact, since a table's entries are made by the same kernels.
 */
export function bakeable(steps: readonly Step[], layout: Layout): Set<Value> {
  if (layout.channels !== 3) return new Set();
  const baked = new Set<Value>([PHOTO]);
  for (const step of steps) if (channelwise(step) && inputsOf(step).every((value) => baked.has(value))) baked.add(step.to);
  baked.delete(PHOTO);
  const pixels = layout.width * layout.height;
  for (const value of baked) {
    const work = costOfAll(slice(steps, [value], new Set()));
    if ((work - WORTH) * pixels < work * greysOf(layout) * MAKINGS) baked.delete(value);
  }
  return baked;
}

/** Returns whether each channel of a step's result depends on that channel alone. */
export function channelwise(step: Step): boolean {
  if (step.do === 'mix') return step.mask === undefined && !step.own && !step.beneath && modeOf(step.mode).by === 'channel';
  return step.do === 'fade' || (step.do === 'point' && opOf(step.op).channelwise !== undefined);
}
