export type Job = () => Promise<unknown> | unknown;

export const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] as number;

/** Median milliseconds of some jobs, run in turn so that a slow moment of the machine meets them all. The first round does not count. */
export async function side<K extends string>(rounds: number, jobs: Record<K, Job>): Promise<Record<K, number>> {
  const names = Object.keys(jobs) as K[];
  const times = Object.fromEntries(names.map((name) => [name, [] as number[]])) as Record<K, number[]>;
  for (let round = 0; round <= rounds; round++)
    for (const name of names) {
      const start = performance.now();
      await jobs[name]();
      if (round > 0) times[name].push(performance.now() - start);
    }
  return Object.fromEntries(names.map((name) => [name, median(times[name])])) as Record<K, number>;
}

/** One line of the report: ours, the yardstick, their ratio and the target. */
export function report(what: string, ours: number, yardstick: number, target: number | undefined, megapixels?: number): void {
  const ratio = ours / yardstick;
  const verdict = target === undefined ? '' : ratio <= target ? `target ${target}: met` : `target ${target}: MISSED`;
  const each = megapixels ? `${(ours / megapixels).toFixed(1)} ms/MP` : '';
  console.log(
    `${what.padEnd(46)} ${ours.toFixed(0).padStart(7)} ms ${yardstick.toFixed(0).padStart(7)} ms  ratio ${ratio.toFixed(3)}  ${each.padEnd(12)} ${verdict}`,
  );
}
