import fs from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { BexlenError } from '@bexlen/core';
import { isOwn, localName, networkAddresses } from './door/addresses';
import type { HouseSettings } from './house';
import { newLog, type Log } from './log';
import { start, startDarkroom, type Running } from './server';

export const USE = `Use: ./start [--phone] [--port N] [--data DIR] [--fresh] [--empty] [--role web|darkroom]

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

const ROLES = new Set(['all', 'web', 'darkroom']);

/** What was started: a process that serves pages, with what it has to say, or one that makes files only. */
export interface Begun {
  /** Its lines for people. */
  readonly says: readonly string[];
  readonly running: Pick<Running, 'address' | 'close'> & Partial<Running>;
  /** Whether somebody may come in who has to be invited. */
  readonly invites: boolean;
}

/**
 * Starts what a command line asks for, with the built programs of a folder.
 * @param words what stands behind the name of the program.
 * @param env `BEXLEN_DATABASE`, `BEXLEN_STORE`, `BEXLEN_LOG` and `BEXLEN_SILENT_SECONDS` of it are read.
 * @param root the folder of Bexlen.
 * @returns undefined where only the use was asked for.
 * @throws {BexlenError} with a sentence and what to do.
 */
export async function begin(
  words: readonly string[],
  env: Readonly<Record<string, string | undefined>>,
  root: string,
  log: Log = newLog(env['BEXLEN_LOG'] ?? 'warn'),
): Promise<Begun | undefined> {
  const { values } = parseArgs({
    args: [...words],
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
  if (values.help) return undefined;
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
  const wanted = path.resolve(root, values.data);
  const data = values.fresh ? await beside(wanted) : wanted;
  const built = path.join(root, 'build');
  const { BEXLEN_DATABASE: database, BEXLEN_STORE: store } = env;
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
    silentSeconds: secondsOf(env['BEXLEN_SILENT_SECONDS']),
  };
  if (role === 'darkroom') {
    // A port that nobody named is any: more than one of them may be on a machine.
    const running = await startDarkroom({ ...settings, port: words.some((word) => word.startsWith('--port')) ? port : 0 });
    return { says: [`A darkroom is at work; its health (/healthz, /readyz, /metrics) is told at ${running.address}`], running, invites: false };
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
  const says = [`Bexlen is at ${running.address}  (data in ${path.relative(root, data) || data})`];
  if (proxy) says.push(`${proxy.origin} is answered on 127.0.0.1:${running.proxyPort}, for a proxy that passes the name on`);
  return { says, running, invites: running.phone().open || proxy !== undefined };
}

/** After how many seconds a machine is called silent. Throws `bad-request`. */
function secondsOf(text: string | undefined): number {
  const seconds = text ? Number(text) : 8;
  if (!(seconds >= 1 && seconds <= 3600))
    throw new BexlenError('bad-request', `BEXLEN_SILENT_SECONDS is ${text}.`, 'Give a number of seconds from 1 to 3600, the same on all machines.');
  return seconds;
}

/** The origin of a proxy in front. Throws `bad-request`. */
function originOf(text: string): string {
  const url = URL.canParse(text) ? new URL(text) : undefined;
  if (url?.protocol !== 'https:' || url.href !== `${url.origin}/`)
    throw new BexlenError('bad-request', `${text} is no origin of HTTPS.`, 'Give it as https://NAME, without anything behind the name.');
  return url.origin;
}
