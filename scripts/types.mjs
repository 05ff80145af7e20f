/** Type-checks every workspace. */
import { spawnSync } from 'node:child_process';

const workspaces = ['core', 'api', 'render', 'server', 'cli', 'app', 'e2e', 'bench'];
const failed = workspaces.filter((name) => spawnSync('node_modules/.bin/tsc', ['-p', name], { stdio: 'inherit' }).status !== 0);
if (failed.length > 0) {
  console.error(`types are wrong in: ${failed.join(', ')}`);
  process.exit(1);
}
