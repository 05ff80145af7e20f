import { Trust } from './trust';

const [WHOLE, COARSE] = [2e6, 2e5];
const MINUTE = 60_000;

it('a graphics processor that is late once makes smaller frames, and all of them after a minute', () => {
  const trust = new Trust();
  expect(trust.allows(WHOLE, 0)).toBe(true);
  expect(trust.late(WHOLE, 5000)).toBe(true);
  expect([trust.allows(WHOLE, 6000), trust.allows(COARSE, 6000)]).toEqual([false, true]);
  trust.made(COARSE, 7000);
  expect(trust.allows(WHOLE, 8000)).toBe(false);
  expect(trust.allows(WHOLE, 5000 + MINUTE)).toBe(true);
  trust.made(WHOLE, 5000 + MINUTE);
  // What is long over is not held against it.
  expect(trust.late(WHOLE, 90_000)).toBe(true);
  expect(trust.allows(COARSE, 90_000)).toBe(true);
});

it('one that is late with smaller frames too rests for the minute, and is left where it is late once more after it', () => {
  const trust = new Trust();
  trust.late(WHOLE, 0);
  expect(trust.late(COARSE, 1000)).toBe(true);
  expect(trust.allows(1, 30_000)).toBe(false);
  expect(trust.allows(WHOLE, MINUTE)).toBe(true);
  expect(trust.late(WHOLE, MINUTE + 1)).toBe(false);
});
