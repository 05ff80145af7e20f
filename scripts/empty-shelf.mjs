/** A data folder with an empty shelf, for tests to begin with: to lay a database out takes seconds, so it is done once for each build of the server. */
import { spawn } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';

const root = path.resolve(import.meta.dirname, '..');
const data = path.join(root, 'build/empty-shelf');
const stamp = path.join(root, 'build/empty-shelf.stamp');

/** Returns the folder, which is to be copied and never changed. Throws where the built server does not start. */
export async function emptyShelf() {
  const built = fs.readFileSync(path.join(root, 'build/server.stamp'), 'utf8');
  if (fs.existsSync(stamp) && fs.readFileSync(stamp, 'utf8') === built) return data;
  fs.rmSync(data, { recursive: true, force: true });
  const child = spawn(process.execPath, ['build/server.mjs', '--data', data, '--port', '0', '--empty'], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const gone = new Promise((resolve) => child.once('exit', resolve));
  await Promise.race([
    new Promise((resolve) => child.stdout.once('data', resolve)),
    gone.then((code) => Promise.reject(new Error(`the built server ended with ${code}; run node scripts/build.mjs first`))),
  ]);
  child.kill('SIGTERM');
  await gone;
  fs.writeFileSync(stamp, built);
  return data;
}
