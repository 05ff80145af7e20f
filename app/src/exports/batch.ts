import type { ExportJob } from '@bexlen/api';
import { say, decimal } from '../words';

/** Files that were ordered together, as far as they have come. */
export interface Batch {
  readonly ids: readonly string[];
  readonly done: number;
  readonly failed: number;
  readonly cancelled: number;
  /** Waiting or being made. */
  readonly left: number;
  /** Files a minute, by those that are done; nothing before the first one is. */
  readonly perMinute: number | undefined;
  readonly secondsLeft: number | undefined;
}

const isUnderWay = ({ state }: ExportJob): boolean => state === 'waiting' || state === 'working';

/** How far files have come that were ordered together. */
export function batchOf(jobs: readonly ExportJob[]): Batch {
  const count = (state: ExportJob['state']): number => jobs.filter((job) => job.state === state).length;
  const took = jobs.flatMap(({ state, tookMs }) => (state === 'done' && tookMs !== null ? [tookMs] : []));
  const mean = took.length > 0 ? took.reduce((a, b) => a + b, 0) / took.length : undefined;
  const left = jobs.filter(isUnderWay);
  // What is being made counts by what is missing of it.
  const share = left.reduce((sum, { state, progress }) => sum + (state === 'working' ? 1 - progress : 1), 0);
  return {
    ids: jobs.map(({ id }) => id),
    done: count('done'),
    failed: count('failed'),
    cancelled: count('cancelled'),
    left: left.length,
    perMinute: mean && 60_000 / mean,
    secondsLeft: mean && left.length > 0 ? (share * mean) / 1000 : undefined,
  };
}

/** Jobs by the batch that they belong to, in the order of the list; those that were ordered alone each by themselves. */
export function inBatches(jobs: readonly ExportJob[]): ExportJob[][] {
  const batches = new Map<string, ExportJob[]>();
  for (const job of jobs) {
    const key = job.batch ?? job.id;
    const known = batches.get(key);
    if (known) known.push(job);
    else batches.set(key, [job]);
  }
  return [...batches.values()];
}

const lasting = (seconds: number): string =>
  seconds < 60 ? say.exports.aboutWhatSLeft(Math.max(5, Math.ceil(seconds / 5) * 5)) : say.exports.aboutSecondsMinLeft(Math.round(seconds / 60));

/** A batch in words: `5 of 12 done · 1 could not be made · 14 a minute · about 30 s left`. */
export function wordsOfBatch({ ids, done, failed, cancelled, perMinute, secondsLeft }: Batch): string {
  const rate =
    perMinute !== undefined && secondsLeft !== undefined
      ? [say.exports.whatAMinute(perMinute < 10 ? decimal(perMinute, 1) : Math.round(perMinute))]
      : [];
  return [
    say.exports.doneOfCountDone(done, ids.length),
    ...(failed > 0 ? [say.exports.failedCouldNotBeMade(failed)] : []),
    ...(cancelled > 0 ? [say.exports.cancelledStopped(cancelled)] : []),
    ...rate,
    ...(secondsLeft === undefined ? [] : [lasting(secondsLeft)]),
  ].join(' · ');
}
