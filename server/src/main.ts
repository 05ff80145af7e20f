import fs from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { BexlenError } from '@bexlen/core';
import { newLog } from './log';
import { start } from './server';

const USE = `Use: ./start [--port N] [--data DIR] [--fresh] [--empty]

  --port N     the port on 127.0.0.1 (4800)
  --data DIR   the data folder (data)
  --fresh      begins with a new data folder beside the old one, which stays
  --empty      begins without the demo photos`;

/** The first free name beside a folder: data-2, data-3 ... */
async function beside(folder: string): Promise<string> {
  for (let n = 2; ; n++) {
    const name = `${folder}-${n}`;
    if (!(await fs.stat(name).catch(() => undefined))) return name;
  }
}

async function main(): Promise<void> {
  const { values } = parseArgs({
    options: {
      port: { type: 'string', default: '4800' },
      data: { type: 'string', default: 'data' },
      fresh: { type: 'boolean', default: false },
      empty: { type: 'boolean', default: false },
      help: { type: 'boolean', short: 'h', default: false },
      'max-upload-mb': { type: 'string', default: '256' },
    },
  });
  if (values.help) return console.log(USE);
  const port = Number(values.port);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new BexlenError('bad-request', `${values.port} is no port.`, 'Give a number from 1 to 65535.');
  const root = process.cwd();
  const wanted = path.resolve(values.data);
  const data = values.fresh ? await beside(wanted) : wanted;
  const built = path.join(root, 'build');
  const running = await start({
    data,
    port,
    site: path.join(root, 'app/dist'),
    migrations: path.join(root, 'server/src/store/migrations'),
    engine: { worker: path.join(built, 'worker.mjs'), kernels: path.join(built, 'kernels.wasm') },
    reader: path.join(built, 'reader.mjs'),
    checks: path.join(built, 'checks.mjs'),
    looks: path.join(root, 'looks'),
    fonts: path.join(built, 'fonts'),
    ...(values.empty ? {} : { demo: path.join(root, 'demo') }),
    maxUploadBytes: Number(values['max-upload-mb']) * 1e6,
    log: newLog(process.env['BEXLEN_LOG'] ?? 'warn'),
  });
  console.log(`Bexlen is at ${running.address}  (data in ${path.relative(root, data) || data})`);
  const end = (): void => void running.close().then(() => process.exit(0));
  process.once('SIGINT', end);
  process.once('SIGTERM', end);
}

main().catch((error: unknown) => {
  const { code, message, hint } = error as { code?: string; message: string; hint?: string };
  const inUse = code === 'EADDRINUSE' ? 'The port is taken. Give another with --port N.' : undefined;
  console.error(inUse ?? (hint ? `${message}\n${hint}` : String((error as Error).stack ?? error)));
  process.exit(1);
});
