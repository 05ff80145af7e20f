import fs from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { BexlenError } from '@bexlen/core';
import { isOwn, localName, networkAddresses } from './door/addresses';
import { Invitation } from './door/invitation';
import type { HouseSettings } from './house';
import { newLog, type Log } from './log';
import { start, startDarkroom } from './server';

const USE = `Use: ./start [--phone] [--port N] [--data DIR] [--fresh] [--empty] [--role web|darkroom]

  --port N         the port on 127.0.0.1 (4800)
  --data DIR       the data folder (data)
  --fresh          begins with a new data folder beside the old one, which stays
  --empty          begins without the demo photos
  --phone          lets paired phones in the same network in, over HTTPS; Phone on the shelf turns it on and off, too
  --at ADDRESS     with --phone: an address to serve, in place of all that this machine has; may be given several times
  --role ROLE      web: pages and changes only; darkroom: makes files only. Both need BEXLEN_DATABASE and BEXLEN_STORE (docs/many-machines.md)
  --origin URL     lets a reverse proxy on this machine stand in front, which is opened as https://NAME; it passes that name on, to the next port`;

/** The first free name beside a folder: data-2, data-3 ... */
async function beside(folder: string): Promise<string> {
  for (let n = 2; ; n++) {
    const name = `${folder}-${n}`;
    if (!(await fs.stat(name).catch(() => undefined))) return name;
  }
}

async function main(): Promise<void> {
  // What it writes is for the one who runs it, and nobody else on the machine.
  process.umask(0o077);
  const { values } = parseArgs({
    options: {
      port: { type: 'string', default: '4800' },
      data: { type: 'string', default: 'data' },
      fresh: { type: 'boolean', default: false },
      empty: { type: 'boolean', default: false },
      phone: { type: 'boolean', default: false },
      at: { type: 'string', multiple: true },
      origin: { type: 'string' },
      role: { type: 'string', default: 'all' },
      help: { type: 'boolean', short: 'h', default: false },
      'max-upload-mb': { type: 'string', default: '256' },
    },
  });
  if (values.help) return console.log(USE);
  const port = Number(values.port);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new BexlenError('bad-request', `${values.port} is no port.`, 'Give a number from 1 to 65535.');
  const proxy = values.origin === undefined ? undefined : { origin: originOf(values.origin), port: port === 0 ? 0 : port + 1 };
  const given = values.at;
  const strange = given?.find((address) => !isOwn(address));
  if (strange !== undefined)
    throw new BexlenError('bad-request', `${strange} is no address in a network of one’s own.`, 'Give one of IPv4, as 192.168.1.20.');
  const name = localName();
  const network = {
    addresses: (): readonly string[] => given ?? networkAddresses(),
    names: name === undefined ? [] : [name],
  };
  const root = process.cwd();
  const wanted = path.resolve(values.data);
  const data = values.fresh ? await beside(wanted) : wanted;
  const built = path.join(root, 'build');
  const log = newLog(process.env['BEXLEN_LOG'] ?? 'warn');
  // The last line: a fault that nobody has answered for is written down, and the others are served on.
  process.on('uncaughtException', (error) => log.error({ err: error }, 'a fault that nobody answered for'));
  process.on('unhandledRejection', (error) => log.error({ err: error }, 'a fault that nobody waited for'));
  const { BEXLEN_DATABASE: database, BEXLEN_STORE: store } = process.env;
  const { role } = values;
  if (!ROLES.has(role)) throw new BexlenError('bad-request', `${role} is no role.`, 'Give --role web or --role darkroom, or none for both in one.');
  if (role !== 'all' && !(database && store))
    throw new BexlenError(
      'bad-request',
      `A process that is ${role} only works with others, and needs to know where they all meet.`,
      'Set BEXLEN_DATABASE and BEXLEN_STORE. docs/many-machines.md shows how.',
    );
  const settings: HouseSettings = {
    data,
    ...(database && { database }),
    ...(store && { store }),
    migrations: path.join(root, 'server/src/store/migrations'),
    engine: { worker: path.join(built, 'worker.mjs'), kernels: path.join(built, 'kernels.wasm') },
    decoder: path.join(built, 'decoder.mjs'),
    checks: path.join(built, 'checks.mjs'),
    fonts: path.join(built, 'fonts'),
    log,
  };
  if (role === 'darkroom') {
    // A port that nobody named is any: more than one of them may be on a machine.
    const darkroom = await startDarkroom({ ...settings, port: process.argv.some((word) => word.startsWith('--port')) ? port : 0 });
    console.log(`A darkroom is at work; its health (/healthz, /readyz, /metrics) is told at ${darkroom.address}`);
    return endWith(darkroom, log);
  }
  const running = await start({
    ...settings,
    webOnly: role === 'web',
    port,
    site: path.join(root, 'app/dist'),
    looks: path.join(root, 'looks'),
    pairPage: path.join(built, 'pair'),
    network,
    phone: values.phone || given !== undefined,
    ...(proxy && { proxy }),
    ...(values.empty ? {} : { demo: path.join(root, 'demo') }),
    maxUploadBytes: Number(values['max-upload-mb']) * 1e6,
  });
  console.log(`Bexlen is at ${running.address}  (data in ${path.relative(root, data) || data})`);
  if (proxy) console.log(`${proxy.origin} is answered on 127.0.0.1:${running.proxyPort}, for a proxy that passes the name on`);
  const invitation = running.phone().open || proxy ? new Invitation(running, process.stdout, process.stdin) : undefined;
  await invitation?.show();
  endWith(running, log);
}

const ROLES = new Set(['all', 'web', 'darkroom']);

/** Stops in order when the process is told to. */
function endWith(running: { readonly close: () => Promise<void> }, log: Log): void {
  const end = (): void => {
    running.close().then(
      () => process.exit(0),
      (error: unknown) => {
        log.error({ err: error }, 'could not be closed in order');
        process.exit(1);
      },
    );
  };
  process.once('SIGINT', end);
  process.once('SIGTERM', end);
}

/** The origin of a proxy in front. Throws `bad-request`. */
function originOf(text: string): string {
  const url = URL.canParse(text) ? new URL(text) : undefined;
  if (url?.protocol !== 'https:' || url.href !== `${url.origin}/`)
    throw new BexlenError('bad-request', `${text} is no origin of HTTPS.`, 'Give it as https://NAME, without anything behind the name.');
  return url.origin;
}

main().catch((error: unknown) => {
  const { code, message, hint } = error as { code?: string; message: string; hint?: string };
  const inUse = code === 'EADDRINUSE' ? 'The port is taken. Give another with --port N.' : undefined;
  console.error(inUse ?? (hint ? `${message}\n${hint}` : String((error as Error).stack ?? error)));
  process.exit(1);
});
