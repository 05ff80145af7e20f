import { emptyStack } from '@bexlen/core';
import { Smalls } from './small';
import type { smallPictures } from './preview';

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

type Done = Parameters<typeof smallPictures>[1];
/** A studio that makes pictures when it is told to, and keeps what was asked of it. */
function studio() {
  const asked: { masters: number[]; done: Done; stopped: boolean }[] = [];
  const smalls = new Smalls((stacks, done) => {
    const one = { masters: stacks.map(({ stack }) => stack.master), done, stopped: false };
    asked.push(one);
    return () => void (one.stopped = true);
  });
  return { smalls, asked };
}
const stackAt = (i: number) => ({ ...emptyStack, master: i / 10 });
const picture = (): ImageData => ({ width: 1, height: 1, data: new Uint8ClampedArray(4) }) as ImageData;

it('asks for what is in sight, and for what comes into sight later, once each', () => {
  const { smalls, asked } = studio();
  smalls.begin(stackAt);
  [4, 2].forEach((i) => smalls.see(i, true));
  jest.runAllTimers();
  smalls.see(7, true);
  smalls.see(2, false);
  smalls.see(2, true);
  jest.runAllTimers();
  expect(asked.map(({ masters }) => masters)).toEqual([[0.2, 0.4], [0.7]]);
});

it('tells none but who shows the one that came', () => {
  const { smalls, asked } = studio();
  const heard: number[] = [];
  const deaf = [0, 1].map((i) => smalls.heed(i, () => heard.push(i)));
  [0, 1].forEach((i) => smalls.see(i, true));
  smalls.begin(stackAt);
  jest.runAllTimers();
  const came = picture();
  asked[0]?.done(1, came);
  expect([heard, smalls.at(0), smalls.at(1)]).toEqual([[1], undefined, came]);
  deaf.forEach((stop) => stop());
  asked[0]?.done(0, picture());
  expect(heard).toEqual([1]);
});

it('begins anew with other stacks: those on their way are given up, those that are there stay until then', () => {
  const { smalls, asked } = studio();
  smalls.begin(stackAt);
  smalls.see(3, true);
  jest.runAllTimers();
  const before = picture();
  asked[0]?.done(0, before);
  smalls.begin((i) => stackAt(i + 1));
  expect([asked[0]?.stopped, smalls.at(3)]).toEqual([true, before]);
  jest.runAllTimers();
  expect(asked[1]?.masters).toEqual([0.4]);
  smalls.end();
  smalls.see(5, true);
  jest.runAllTimers();
  expect(asked).toHaveLength(2);
});
