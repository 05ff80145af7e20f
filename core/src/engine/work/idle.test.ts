import type { Step, Value } from '../../stack/program';
import { idleSteps } from './idle';

const point = (to: Value, from: Value[], op: 'toOklab' | 'invert' | 'weighed' = 'toOklab'): Step =>
  ({ do: 'point', to, op, from, numbers: [] }) as Step;
const mix = (to: Value, under: Value, over: Value, mask: Value, rest: object = {}): Step => ({
  do: 'mix',
  to,
  under,
  over,
  mask,
  mode: 'normal',
  strength: 1,
  ...rest,
});
const values = (steps: Iterable<Step> = []): Value[] => [...steps].map(({ to }) => to).sort((a, b) => a - b);

/** A layer's work on what lies beneath it, twice over, by a mask. */
const layer = [point(1, [0]), point(2, [1]), point(3, [2]), point(4, [0]), mix(5, 1, 3, 4)];

describe('where coverage is nothing', () => {
  it('what a layer alone is made of is left out, not what lies beneath it or its mask', () => {
    const idle = idleSteps(layer, new Set([5]), true).get(layer[4] as Step);
    expect(idle?.by).toBe(4);
    expect(values(idle?.none.steps)).toEqual([2, 3]);
    expect(values(idle?.all?.steps)).toEqual([]);
  });

  it('what is wanted besides is made', () => {
    const idle = idleSteps(layer, new Set([5, 2]), true).get(layer[4] as Step);
    expect(values(idle?.none.steps)).toEqual([3]);
  });

  it('an image that is read by nothing else is not fetched', () => {
    const steps = [point(1, [9, 8]), point(2, [1]), point(3, [8]), mix(4, 3, 2, 7)];
    const idle = idleSteps(steps, new Set([4]), true).get(steps[3] as Step);
    expect([...(idle?.none.leaves ?? [])]).toEqual([9]);
  });

  it('nor is what is weighed by it', () => {
    const steps = [point(1, [0]), point(2, [1]), point(3, [2, 7], 'weighed')];
    expect(values(idleSteps(steps, new Set([3]), true).get(steps[2] as Step)?.none.steps)).toEqual([1, 2]);
  });
});

describe('where coverage is whole', () => {
  /** Two levels, one over the other. */
  const levels = [point(1, [0]), point(2, [0]), mix(3, 1, 2, 8), point(4, [0]), point(5, [4]), mix(6, 3, 5, 9)];

  it('what lies beneath an opaque layer is left out, with all that is in it', () => {
    const idle = idleSteps(levels, new Set([6]), true).get(levels[5] as Step);
    expect(values(idle?.all?.steps)).toEqual([1, 2, 3]);
    expect(values(idle?.none.steps)).toEqual([4, 5]);
  });

  it.each([{ mode: 'screen' }, { strength: 0.5 }, { own: 'gate' }, { beneath: 'gate' }])('but not where it counts: %p', (rest) => {
    const last = mix(6, 3, 5, 9, rest);
    expect(idleSteps([...levels.slice(0, 5), last], new Set([6]), true).get(last)?.all).toBeUndefined();
  });

  it('nor where a photo is not opaque', () => {
    expect(idleSteps(levels, new Set([6]), false).get(levels[5] as Step)?.all).toBeUndefined();
  });
});
