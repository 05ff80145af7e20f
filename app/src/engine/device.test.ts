import { workersHere, workingEdge } from './device';

const phone = { width: 390, height: 844, scale: 3 };
const lying = { width: 6000, height: 4000 };
const upright = { width: 4000, height: 6000 };
const machine = (memory: number | undefined, cores: number, screen: { width: number; height: number }): void => {
  Object.assign(globalThis, { navigator: { deviceMemory: memory, hardwareConcurrency: cores }, screen });
};

it('takes the least size that fills a screen, and what the memory allows', () => {
  machine(8, 8, { width: 1280, height: 800 });
  expect(workingEdge({ width: 1280, height: 800, scale: 1 }, lying)).toBe(1536);
  expect(workingEdge({ width: 1280, height: 800, scale: 2 }, lying)).toBe(2048);
  machine(8, 8, phone);
  expect([workingEdge(phone, lying), workingEdge(phone, upright)]).toEqual([1536, 2048]);
  // A keyboard covers half of the screen for a moment.
  expect(workingEdge({ ...phone, height: 480 }, upright)).toBe(2048);
  machine(4, 8, phone);
  expect([workingEdge(phone, lying), workingEdge(phone, upright)]).toEqual([1536, 1536]);
  machine(2, 8, phone);
  expect([workingEdge(phone, lying), workersHere()]).toEqual([1024, 2]);
});

it('takes a phone that tells nothing for a small one, and never less than one worker', () => {
  machine(undefined, 6, phone);
  expect([workingEdge(phone, upright), workersHere()]).toEqual([1536, 4]);
  machine(undefined, 0, { width: 2560, height: 1440 });
  expect([workingEdge({ width: 2560, height: 1440, scale: 2 }, lying), workersHere()]).toEqual([2048, 1]);
});
