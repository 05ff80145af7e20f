import { modeOf } from '../../blend';
import { filterOf } from '../../expressions/filters';
import { opOf } from '../../expressions/ops';
import type { Step } from '../../stack/program';

/** What a look into a tone table costs, in nanoseconds a pixel. */
export const LOOK = 5;
/** A blurred image, filtered small and grown back. */
const BLUR = 5;

/** Nanoseconds that a step takes for an opaque pixel, about, at 2.5 GHz with nothing else going on: for weighing one way against another. */
export function costOf(step: Step): number {
  switch (step.do) {
    case 'point':
      return opOf(step.op).cost;
    case 'mix':
      return modeOf(step.mode).cost;
    case 'picture':
      return 3;
    case 'fade':
      return 1;
    case 'fused':
      return LOOK;
    case 'blur':
      return step.by ? filterOf(step.by.filter).cost / filterOf(step.by.filter).factor(step.by.numbers) ** 2 + BLUR : BLUR;
  }
}

export const costOfAll = (steps: readonly Step[]): number => steps.reduce((sum, step) => sum + costOf(step), 0);
