/** Runs the browser stories, on the built program: `npm run e2e -- -g NAME` runs some. Keeps how long each took. */
import { spawn } from 'node:child_process';
import fs from 'node:fs';
import { brief, memory, noted, slowest } from './running.mjs';

const args = process.argv.slice(2);
const report = 'build/stories.json';
fs.rmSync(report, { force: true });
const child = spawn(process.execPath, [...brief, '../node_modules/playwright/cli.js', 'test', ...args], {
  cwd: 'e2e',
  stdio: 'inherit',
  env: { ...process.env, ...memory },
});
const code = await new Promise((resolve) => child.on('exit', resolve));
if (fs.existsSync(report)) {
  const specs = (suites) => suites.flatMap(({ specs: own = [], suites: inner = [] }) => [...own, ...specs(inner)]);
  const took = specs(JSON.parse(fs.readFileSync(report, 'utf8')).suites).flatMap(({ title, tests }) =>
    tests.map(({ results }) => [title, results.reduce((all, { duration }) => all + duration, 0) / 1000]),
  );
  noted('stories', took, args.length === 0);
  if (args.length === 0) slowest('stories', took);
}
process.exit(code ?? 1);
