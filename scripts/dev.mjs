/** The server and the page with reload, on http://127.0.0.1:4800: what is changed is built again, the server started anew, the page told. Ctrl+C ends it. */
import { spawn } from 'node:child_process';
import fs from 'node:fs';
import { setTimeout, clearTimeout } from 'node:timers';

const args = process.argv.slice(2);
/** Changes that come close together are built once. */
const REST_MS = 300;
let server;
let building = false;
let again = false;

const once = (child) => new Promise((resolve) => child.once('exit', resolve));
async function restart() {
  if (building) return void (again = true);
  building = true;
  const code = await once(spawn(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' }));
  if (code === 0) {
    if (server) {
      const gone = once(server);
      server.kill('SIGTERM');
      await gone;
    }
    // A page that is open hears from the new server that it is an older one, and offers to load anew.
    server = spawn(process.execPath, ['--enable-source-maps', 'build/server.mjs', ...args], { stdio: 'inherit' });
  }
  building = false;
  if (again) {
    again = false;
    await restart();
  }
}

let timer;
const soon = (_event, file) => {
  if (!file || /(^|[\\/])(node_modules|dist|build|\.expo|public)([\\/]|$)|built\.json|\.test\.tsx?$/.test(file)) return;
  clearTimeout(timer);
  timer = setTimeout(restart, REST_MS);
};
for (const folder of ['core/src', 'core/kernels', 'api/src', 'render/src', 'server/src', 'app/src', 'app/app', 'looks'])
  fs.watch(folder, { recursive: true }, soon);
const end = () => {
  server?.kill('SIGTERM');
  process.exit(0);
};
process.once('SIGINT', end);
process.once('SIGTERM', end);
await restart();
