/** Type-checks all that is written in TypeScript: the page, and what runs in Node.js or is read by both. */
import { spawnSync } from 'node:child_process';

const wrong = ['.', 'app'].filter((project) => {
  const tsc = ['node_modules/typescript-native/bin/tsc', '-p', project, '--singleThreaded'];
  return spawnSync(process.execPath, tsc, { stdio: 'inherit' }).status !== 0;
});
process.exit(wrong.length > 0 ? 1 : 0);
