/** What runs of the tests have in common: where they put what is thrown away, and how long they took. */
import fs from 'node:fs';
import path from 'node:path';

const LEAST_BYTES = 4e9;
const SHARED = '/dev/shm';

function hasRoom() {
  try {
    const { bavail, bsize } = fs.statfsSync(SHARED);
    return bavail * bsize > LEAST_BYTES;
  } catch {
    return false;
  }
}

/** Temporary folders in memory, where this machine has some to spare: data folders are laid out and thrown away by the hundred. */
export const memory = !process.env.TMPDIR && hasRoom() ? { TMPDIR: SHARED } : {};

/** V8 collects garbage seldom, and not beside the program: where both processors are busy that only gets in its way. */
export const swept = ['--single-threaded-gc', '--min-semi-space-size=32', '--max-semi-space-size=64'];

/** How V8 is told to run tests: what a test calls is called for seconds, so that of what is compiled to run for hours only the hottest is worth it. */
export const brief = ['--interrupt-budget=1000000', '--wasm-tiering-budget=50000000', ...swept];

const file = path.resolve(import.meta.dirname, '../build/durations.json');

/** Seconds by what took them, of the last run of each: the longest are begun first. */
export const durations = () => (fs.existsSync(file) ? JSON.parse(fs.readFileSync(file, 'utf8')) : {});

/** Keeps how long each took. @param whole whether these are all, in the place of all before. */
export function noted(of, took, whole) {
  const all = durations();
  all[of] = Object.fromEntries([...(whole ? [] : Object.entries(all[of] ?? {})), ...took.map(([name, s]) => [name, Math.round(s * 10) / 10])]);
  fs.mkdirSync(path.dirname(file), { recursive: true });
  fs.writeFileSync(file, `${JSON.stringify(all, null, 2)}\n`);
}

const MOST = 10;
/** Prints the slowest. */
export function slowest(of, took) {
  console.log(`the slowest ${of}:`);
  for (const [name, s] of took.toSorted((a, b) => b[1] - a[1]).slice(0, MOST)) console.log(`  ${s.toFixed(1).padStart(6)} s  ${name}`);
}
