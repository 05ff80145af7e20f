/** Runs the unit tests of every workspace and counts them together. */
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

const counts = { passed: 0, failed: 0 };
for (const workspace of ['core', 'server', 'cli', 'app']) {
  const report = path.join(fs.mkdtempSync(path.join(os.tmpdir(), 'bexlen-')), 'report.json');
  // The database loads its WebAssembly with a dynamic import.
  const flags = workspace === 'server' ? ['--experimental-vm-modules', '--no-warnings'] : [];
  // On two processors the runner would take one. The server's tests start servers, which have threads of their own.
  const workers = workspace === 'server' ? [] : ['--maxWorkers=2'];
  console.log(`unit tests of ${workspace}`);
  const { status } = spawnSync(
    process.execPath,
    [...flags, '../node_modules/jest/bin/jest.js', '--forceExit', '--json', `--outputFile=${report}`, '--testTimeout=60000', ...workers],
    { cwd: workspace, stdio: ['ignore', 'ignore', 'inherit'] },
  );
  const read = fs.existsSync(report) ? JSON.parse(fs.readFileSync(report, 'utf8')) : { numPassedTests: 0, numFailedTests: 1, numFailedTestSuites: 1 };
  counts.passed += read.numPassedTests;
  counts.failed += read.numFailedTests || (status ? Math.max(1, read.numFailedTestSuites) : 0);
}
fs.mkdirSync('build', { recursive: true });
fs.writeFileSync('build/unit.json', JSON.stringify(counts));
console.log(`${counts.passed} unit tests passed, ${counts.failed} failed`);
process.exit(counts.failed > 0 ? 1 : 0);
