/**
 * Runs the unit tests of all workspaces and counts them: those that run in Node.js in bare processes, those of the app as its framework wants them. Paths or names of files run those alone, with
 * `--related` the tests that use them.
 */
import { spawn } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { clearTimeout, setTimeout } from 'node:timers';
import { graphics } from './graphics.mjs';
import { brief, memory, noted, slowest } from './running.mjs';

const args = process.argv.slice(2);
const files = args.filter((arg) => !arg.startsWith('--'));
/** Tests of what the files are used in, not those of these names. */
const related = args.includes('--related');
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'bexlen-'));
const nothing = { numPassedTests: 0, numFailedTests: 0, numPendingTests: 0, numFailedTestSuites: 1, testResults: [] };

const LONGEST_MS = 40 * 60_000;
/** The report of some projects. */
async function run(name, projects, workers, flags) {
  const report = path.join(folder, `${name}.json`);
  const how = [
    '--json',
    `--outputFile=${report}`,
    `--maxWorkers=${workers}`,
    `--testSequencer=${path.resolve('scripts/sequencer.cjs')}`,
    '--passWithNoTests',
  ];
  const jest = ['node_modules/jest/bin/jest.js', '--projects', ...projects, ...how, ...(related ? ['--findRelatedTests'] : []), ...files];
  const child = spawn(process.execPath, [...brief, ...flags, '--no-warnings', ...jest], {
    // Of a group of its own: what a test leaves running ends with it.
    detached: true,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, ...graphics, ...memory },
  });
  // What has not ended by then hangs, on a busy machine too.
  const hung = setTimeout(() => process.kill(-child.pid, 'SIGKILL'), LONGEST_MS);
  await new Promise((resolve) => child.on('exit', resolve));
  clearTimeout(hung);
  try {
    process.kill(-child.pid, 'SIGKILL');
  } catch {
    // Nothing was left.
  }
  return fs.existsSync(report) ? JSON.parse(fs.readFileSync(report, 'utf8')) : nothing;
}

const bare = ['--import', 'tsx'];
/** What computes beside what mostly waits: for a database, a file, a process. */
const parts = [
  (async () => [await run('core', ['core'], 1, bare), await run('app', ['app'], 1, ['--experimental-vm-modules'])])(),
  (async () => [await run('server', ['server', 'cli'], 2, bare)])(),
];
const reports = (await Promise.all(parts)).flat();
fs.rmSync(folder, { recursive: true });
const sum = (name) => reports.reduce((all, report) => all + report[name], 0);
const counts = { passed: sum('numPassedTests'), failed: sum('numFailedTests'), skipped: sum('numPendingTests') };
// A file that could not be run has no tests that failed.
counts.failed = Math.max(counts.failed, sum('numFailedTestSuites'));
const results = reports.flatMap(({ testResults }) => testResults);
const seconds = ({ startTime, endTime, assertionResults, perfStats }) =>
  Math.max(
    (endTime - startTime) / 1000 || 0,
    (perfStats?.end - perfStats?.start) / 1000 || 0,
    assertionResults.reduce((all, { duration }) => all + (duration ?? 0), 0) / 1000,
  );
const took = results.map((result) => [path.relative('.', result.name), seconds(result)]);
noted('files', took, files.length === 0);
fs.writeFileSync('build/unit.json', JSON.stringify(counts));
if (files.length === 0) slowest('files of unit tests', took);
console.log(`${counts.passed} unit tests passed, ${counts.failed} failed, ${counts.skipped} skipped`);
process.exit(counts.failed > 0 ? 1 : 0);
