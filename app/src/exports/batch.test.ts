import type { ExportJob } from '@bexlen/api';
import { batchOf, inBatches, wordsOfBatch } from './batch';

const job = (id: string, state: ExportJob['state'], more: Partial<ExportJob> = {}): ExportJob =>
  ({ id, state, batch: 'b', tookMs: state === 'done' ? 4000 : null, progress: 0, ...more }) as ExportJob;

it('says how far files have come that were ordered together, how fast, and how long it takes yet', () => {
  const jobs = [
    job('a', 'done'),
    job('b', 'done', { tookMs: 8000 }),
    job('c', 'failed'),
    job('d', 'working', { progress: 0.5 }),
    job('e', 'waiting'),
  ];
  const batch = batchOf(jobs);
  expect(batch).toMatchObject({ done: 2, failed: 1, cancelled: 0, left: 2, perMinute: 10, secondsLeft: 9 });
  expect(wordsOfBatch(batch)).toBe('2 of 5 done · 1 could not be made · 10 a minute · about 10 s left');
});

it('says nothing of speed before the first file is done, nor when all are', () => {
  expect(wordsOfBatch(batchOf([job('a', 'working'), job('b', 'waiting')]))).toBe('0 of 2 done');
  expect(wordsOfBatch(batchOf([job('a', 'done'), job('b', 'cancelled')]))).toBe('1 of 2 done · 1 stopped');
});

it('keeps the order of the list, and files that were ordered alone by themselves', () => {
  const jobs = [job('a', 'done', { batch: null }), job('b', 'done'), job('c', 'done', { batch: null }), job('d', 'done')];
  expect(inBatches(jobs).map((batch) => batch.map(({ id }) => id).join(''))).toEqual(['a', 'bd', 'c']);
});
