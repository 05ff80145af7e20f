/** Runs a command where Dawn finds a graphics processor in software: the one that comes with Chromium, by what loads it there. */
import { spawnSync } from 'node:child_process';
import os from 'node:os';
import { fileURLToPath } from 'node:url';

const chromium = '/usr/lib/chromium';

/** What a process has to be started with. */
export const graphics = {
  LD_LIBRARY_PATH: [chromium, process.env.LD_LIBRARY_PATH].filter(Boolean).join(':'),
  VK_ICD_FILENAMES: `${chromium}/vk_swiftshader_icd.json`,
  XDG_RUNTIME_DIR: process.env.XDG_RUNTIME_DIR ?? os.tmpdir(),
};

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const [command, ...args] = process.argv.slice(2);
  process.exit(spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...graphics } }).status ?? 1);
}
