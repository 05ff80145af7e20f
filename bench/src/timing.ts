import v8 from 'node:v8';
import vm from 'node:vm';

v8.setFlagsFromString('--expose-gc');
const tidy = vm.runInNewContext('gc') as () => void;

export type Job = () => Promise<unknown> | unknown;

export const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] as number;

export interface Times {
  /** Of each round. */
  readonly rounds: readonly number[];
  /** Milliseconds in the middle of all rounds. */
  readonly median: number;
  /** And in the round that was least disturbed by what else the machine had to do. */
  readonly best: number;
}

/** Times of some jobs, run in turn so that a slow moment of the machine meets them all. The first round does not count. */
export async function side<K extends string>(rounds: number, jobs: Record<K, Job>): Promise<Record<K, Times>> {
  const names = Object.keys(jobs) as K[];
  const times = Object.fromEntries(names.map((name) => [name, [] as number[]])) as Record<K, number[]>;
  for (let round = 0; round <= rounds; round++)
    for (const name of names) {
      // What one job left behind must not be cleared away in the time of the next.
      tidy();
      const start = performance.now();
      await jobs[name]();
      if (round > 0) times[name].push(performance.now() - start);
    }
  return Object.fromEntries(names.map((name) => [name, timesOf(times[name])])) as Record<K, Times>;
}

export const timesOf = (rounds: readonly number[]): Times => ({ rounds, median: median(rounds), best: Math.min(...rounds) });

/** What one job takes longer than another. */
export const less = (a: Times, b: Times): Times => ({
  rounds: a.rounds.map((ms, i) => ms - (b.rounds[i] as number)),
  median: a.median - b.median,
  best: a.best - b.best,
});

/** Times of a job that is so many times as large. */
export const scaled = ({ rounds, median, best }: Times, by: number): Times => ({
  rounds: rounds.map((ms) => ms * by),
  median: median * by,
  best: best * by,
});

/** How many times as long one job takes: in the middle of the rounds, each against the other's in the same moment of the machine, where both have as many. */
const ratioOf = (a: Times, b: Times): number =>
  a.rounds.length === b.rounds.length ? median(a.rounds.map((ms, i) => ms / (b.rounds[i] as number))) : a.median / b.median;

/** One line of the report: ours, the yardstick, the ratio in the middle of the rounds and that of the best ones, and the target. */
export function report(what: string, ours: Times, yardstick: Times, target: number | undefined, megapixels?: number): void {
  const [ratio, best] = [ratioOf(ours, yardstick), ours.best / yardstick.best];
  const verdict = target === undefined ? '' : `target ${target}: ${ratio <= target ? 'met' : best <= target ? 'met by the best rounds' : 'MISSED'}`;
  const each = megapixels ? `${(ours.best / megapixels).toFixed(1)} ms/MP` : '';
  const ms = (it: Times): string => `${it.median.toFixed(0)} (${it.best.toFixed(0)})`.padStart(13);
  console.log(`${what.padEnd(50)} ${ms(ours)} ms ${ms(yardstick)} ms  ratio ${ratio.toFixed(3)} (${best.toFixed(3)})  ${each.padEnd(12)} ${verdict}`);
}
