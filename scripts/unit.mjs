/** Runs the unit tests of every workspace and counts them together. */
import { spawn } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

const counts = { passed: 0, failed: 0 };

function test(workspace, workers) {
  const report = path.join(fs.mkdtempSync(path.join(os.tmpdir(), 'bexlen-')), 'report.json');
  // The database loads its WebAssembly with a dynamic import.
  const flags = workspace === 'server' ? ['--experimental-vm-modules', '--no-warnings'] : [];
  console.log(`unit tests of ${workspace}`);
  const jest = [
    '../node_modules/jest/bin/jest.js',
    '--forceExit',
    '--json',
    `--outputFile=${report}`,
    '--testTimeout=60000',
    `--maxWorkers=${workers}`,
  ];
  const child = spawn(process.execPath, [...flags, ...jest], { cwd: workspace, stdio: ['ignore', 'ignore', 'inherit'] });
  return new Promise((resolve) =>
    child.on('close', (status) => {
      const read = fs.existsSync(report)
        ? JSON.parse(fs.readFileSync(report, 'utf8'))
        : { numPassedTests: 0, numFailedTests: 1, numFailedTestSuites: 1 };
      counts.passed += read.numPassedTests;
      counts.failed += read.numFailedTests || (status ? Math.max(1, read.numFailedTestSuites) : 0);
      resolve();
    }),
  );
}

// The core's tests keep two processors busy. Those of the server wait a good deal, for threads, files and disks: two at a time, and others beside them.
await test('core', 2);
await Promise.all([test('server', 2), test('cli', 1).then(() => test('app', 1))]);
fs.mkdirSync('build', { recursive: true });
fs.writeFileSync('build/unit.json', JSON.stringify(counts));
console.log(`${counts.passed} unit tests passed, ${counts.failed} failed`);
process.exit(counts.failed > 0 ? 1 : 0);
