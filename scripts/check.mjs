/**
 * Everything that must hold, after what it needs is installed. What waits much goes on beside what computes; each step says how long it took. Closes with the
 * count of all tests: a step that failed without a failing test counts as one.
 */
import { Buffer } from 'node:buffer';
import { spawn } from 'node:child_process';
import fs from 'node:fs';
import { performance } from 'node:perf_hooks';

const node = process.execPath;
const begun = performance.now();
const since = (from) => `${((performance.now() - from) / 1000).toFixed(0)} s`;
let faults = 0;

/** Runs a step and says what it said when it ends. */
const step = (name, command, ...args) =>
  new Promise((resolve) => {
    const from = performance.now();
    const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'] });
    const said = [];
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => said.push(part));
    child.on('close', (code) => {
      process.stdout.write(`== ${name}: ${code === 0 ? 'well' : 'FAULTS'}, ${since(from)}, at ${since(begun)}\n`);
      process.stdout.write(Buffer.concat(said));
      if (code !== 0) faults++;
      resolve();
    });
  });

const REPORTS = ['build/unit.json', 'build/stories.json', 'build/browsers.json'];
for (const file of REPORTS) fs.rmSync(file, { force: true });
// Of two processors one compiles and packs for the most part; the other takes all else.
await Promise.all([
  step('programs', node, 'scripts/build.mjs', '--no-app'),
  (async () => {
    await step('loops', node, 'scripts/loops.mjs');
    await step('lint', 'npm', 'run', '--silent', 'lint');
  })(),
]);
await Promise.all([
  (async () => {
    await step('page', node, 'scripts/build.mjs');
    await step('Firefox and WebKit', 'npm', 'run', '--silent', 'browsers:one');
  })(),
  (async () => {
    await step('types', node, 'scripts/types.mjs');
    await step('units', node, 'scripts/unit.mjs');
  })(),
]);
await step('stories', 'npm', 'run', '--silent', 'e2e');

const [unit, stories, browsers] = REPORTS.map((file) => (fs.existsSync(file) ? JSON.parse(fs.readFileSync(file, 'utf8')) : undefined));
const all = [
  unit ?? { passed: 0, failed: 1, skipped: 0 },
  stories
    ? { passed: stories.stats.expected, failed: stories.stats.unexpected + stories.stats.flaky, skipped: stories.stats.skipped }
    : { passed: 0, failed: 1, skipped: 0 },
  browsers ?? { passed: 0, failed: 1, skipped: 0 },
];
const sum = (name) => all.reduce((total, each) => total + each[name], 0);
const failed = Math.max(sum('failed'), faults > 0 ? 1 : 0);
console.log(`in ${since(begun)}`);
console.log(`${sum('passed')} passed, ${failed} failed, ${sum('skipped')} skipped`);
process.exit(failed > 0 ? 1 : 0);
