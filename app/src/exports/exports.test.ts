import type { ExportJob } from '@bexlen/api';
import { again, followExports, useExports } from './exports';

let mockHeard: Record<string, (what: unknown) => void> = {};
let mockAnswer: (jobs: unknown[]) => void = () => undefined;
jest.mock('../state/news', () => ({
  hear: (name: string, listener: (what: unknown) => void) => {
    mockHeard[name] = listener;
    return () => undefined;
  },
  useReach: { subscribe: () => () => undefined },
}));
jest.mock('../state/server', () => ({
  sentenceOf: String,
  server: {
    exports: () => new Promise((resolve) => (mockAnswer = resolve)),
    exportAgain: (id: string) => Promise.resolve({ id, state: 'waiting' }),
  },
}));

const job = (id: string, state: string): ExportJob => ({ id, state }) as ExportJob;
const states = (): string[] => useExports.getState().jobs.map(({ id, state }) => `${id} ${state}`);
const settled = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));

beforeEach(() => {
  mockHeard = {};
  useExports.setState({ jobs: [] });
});

it('believes what was told while the list was on its way more than the list', async () => {
  const stop = followExports();
  await settled();
  mockHeard['export']?.(job('a', 'failed'));
  mockHeard['removed']?.({ id: 'b' });
  mockAnswer([job('a', 'waiting'), job('b', 'done'), job('c', 'done')]);
  await settled();
  expect(states()).toEqual(['a failed', 'c done']);
  stop();
});

it('asks for the list after an act, since its answer may be older than what was told', async () => {
  const stop = followExports();
  await settled();
  mockAnswer([job('a', 'failed')]);
  await settled();
  const done = again(job('a', 'failed'));
  mockHeard['export']?.(job('a', 'done'));
  await settled();
  mockAnswer([job('a', 'done')]);
  await done;
  expect(states()).toEqual(['a done']);
  stop();
});
