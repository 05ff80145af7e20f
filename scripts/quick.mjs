/**
 * For every few minutes: types, lint and related unit tests of what has changed since the last commit, or of given paths, and the stories that are marked @quick. `npm run quick [PATH...]`
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { performance } from 'node:perf_hooks';

const git = (...args) => execFileSync('git', args, { encoding: 'utf8' }).split('\n').filter(Boolean);
const given = process.argv.slice(2);
const changed =
  given.length > 0 ? given : [...git('diff', '--name-only', '--diff-filter=d', 'HEAD'), ...git('ls-files', '--others', '--exclude-standard')];
const code = changed.filter((file) => /\.(ts|tsx|mjs|cjs)$/.test(file));
const faults = [];
const run = (name, command, args) => {
  const begun = performance.now();
  const { status } = spawnSync(command, args, { stdio: 'inherit' });
  console.log(`== ${name}: ${status === 0 ? 'well' : 'faults'}, ${((performance.now() - begun) / 1000).toFixed(0)} s`);
  if (status !== 0) faults.push(name);
};

run('build', process.execPath, ['scripts/build.mjs']);
if (code.length > 0) run('types', process.execPath, ['scripts/types.mjs']);
if (code.length > 0) run('lint', 'node_modules/.bin/oxlint', ['--deny-warnings', ...code]);
const tested = code.filter((file) => /^(core|server|cli|app)\//.test(file));
if (tested.length > 0) run('unit tests', process.execPath, ['scripts/unit.mjs', '--related', ...tested]);
run('stories', 'npm', ['run', '--silent', 'e2e', '--', '-g', '@quick']);
console.log(faults.length === 0 ? 'All well.' : `Faults: ${faults.join(', ')}.`);
process.exit(faults.length === 0 ? 0 : 1);
