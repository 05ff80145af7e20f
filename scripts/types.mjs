/** Type-checks every workspace, two at a time. */
import { spawn } from 'node:child_process';

const waiting = ['app', 'server', 'core', 'cli', 'e2e', 'bench', 'render', 'api'];
const failed = [];
const check = (name) =>
  new Promise((resolve) => {
    const child = spawn(process.execPath, ['node_modules/typescript-native/bin/tsc', '-p', name], { stdio: 'inherit' });
    child.on('exit', (code) => {
      if (code !== 0) failed.push(name);
      resolve();
    });
  });
const one = async () => {
  for (let name = waiting.shift(); name; name = waiting.shift()) await check(name);
};
await Promise.all([one(), one()]);
if (failed.length > 0) {
  console.error(`types are wrong in: ${failed.join(', ')}`);
  process.exit(1);
}
