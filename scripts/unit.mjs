/**
 * Runs the unit tests of all workspaces together and counts them. Paths or names of files run those alone, with `--related` the tests that use them; `--note` keeps how long each file took, by which the
 * longest are begun first.
 */
import { spawn } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { graphics } from './graphics.mjs';

const args = process.argv.slice(2);
const files = args.filter((arg) => !arg.startsWith('--'));
/** Tests of what the files are used in, not those of these names. */
const related = args.includes('--related');
const report = path.join(fs.mkdtempSync(path.join(os.tmpdir(), 'bexlen-')), 'report.json');
// The database loads its WebAssembly with a dynamic import.
const flags = ['--experimental-vm-modules', '--no-warnings'];
const jest = ['node_modules/jest/bin/jest.js', '--projects', 'core', 'server', 'cli', 'app', '--json', `--outputFile=${report}`];
const how = [
  '--testTimeout=180000',
  '--maxWorkers=2',
  `--testSequencer=${path.resolve('scripts/sequencer.cjs')}`,
  ...(related ? ['--findRelatedTests', '--passWithNoTests'] : []),
  ...files,
];
const child = spawn(process.execPath, [...flags, ...jest, ...how], { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, ...graphics } });
const status = await new Promise((resolve) => child.on('close', resolve));
const read = fs.existsSync(report)
  ? JSON.parse(fs.readFileSync(report, 'utf8'))
  : { numPassedTests: 0, numFailedTests: 1, numFailedTestSuites: 1, testResults: [] };
const counts = { passed: read.numPassedTests, failed: read.numFailedTests || (status ? Math.max(1, read.numFailedTestSuites) : 0) };
if (args.includes('--note')) {
  const took = read.testResults.map(({ name, startTime, endTime }) => [path.relative('.', name), Math.round((endTime - startTime) / 100) / 10]);
  took.sort(([a], [b]) => (a < b ? -1 : 1));
  fs.writeFileSync('scripts/durations.json', `${JSON.stringify(Object.fromEntries(took), null, 2)}\n`);
}
fs.mkdirSync('build', { recursive: true });
fs.writeFileSync('build/unit.json', JSON.stringify(counts));
console.log(`${counts.passed} unit tests passed, ${counts.failed} failed`);
process.exit(counts.failed > 0 ? 1 : 0);
