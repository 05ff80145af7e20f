export { upload } from './upload';
import { execFile, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import zlib from 'node:zlib';
import pg from 'pg';
import { pino } from 'pino';
import sharp from 'sharp';

const root = path.join(import.meta.dirname, '../..');
/** How V8 was told to run the tests, which a program that they start is told too. */
const brief = process.execArgv.filter((flag) => /^--(interrupt|wasm|single|min|max)-/.test(flag));

/** The built server, at work. */
export interface Running {
  readonly address: string;
  /** Where a proxy in front finds it, if it was started for one. */
  readonly proxyPort: number | undefined;
  /** What it has written to its log. */
  readonly log: () => string;
  /** Stops it as Ctrl+C would. */
  readonly close: () => Promise<void>;
}

/** One that is a process of its own. */
export interface RunningAlone extends Running {
  readonly pid: number;
  /** The code that it ended with, or the signal; undefined while it runs. */
  readonly ended: () => number | string | undefined;
  /** Ends it at once, in the middle of whatever it does. */
  readonly kill: () => Promise<void>;
}

/** Where the tables of a server's data folder are: in it, or, where the tests are run on a PostgreSQL server, in a database there of the folder's own. */
export async function databaseOf(data: string): Promise<string> {
  const server = process.env['BEXLEN_TEST_POSTGRES'];
  if (!server) return path.join(data, 'database');
  const name = `of_${createHash('sha256').update(data).digest('hex').slice(0, 16)}`;
  const client = new pg.Client(server);
  await client.connect();
  const { rowCount } = await client.query('SELECT 1 FROM pg_database WHERE datname = $1', [name]);
  if (rowCount === 0) await client.query(`CREATE DATABASE ${name}`);
  await client.end();
  return Object.assign(new URL(server), { pathname: `/${name}` }).href;
}

/** Where a server's objects are: in its data folder, or, where the tests are run on an object store, in a bucket there of the folder's own. */
async function bucketOf(data: string, server: string | undefined): Promise<Readonly<Record<string, string>>> {
  if (!server) return {};
  const name = `of-${createHash('sha256').update(data).digest('hex').slice(0, 16)}`;
  // One that is there already is as good.
  await fetch(`${server}/${name}`, { method: 'PUT' });
  return { BEXLEN_STORE: `s3://${name}?endpoint=${server}` };
}

/** For tests that look into the data folder: left out where the objects are in a store. */
export const inFolderOnly = process.env['BEXLEN_TEST_STORE'] ? it.skip : it;

/** A data folder with an empty shelf, unless it is there already: to lay tables out takes seconds, so that was done once for all tests. */
export async function laidOut(data: string): Promise<string> {
  const emptyShelf = process.env['BEXLEN_EMPTY_SHELF'];
  if (!emptyShelf || (await fs.stat(data).catch(() => undefined))) return data;
  await fs.mkdir(path.dirname(data), { recursive: true });
  await promisify(execFile)('cp', ['-r', emptyShelf, data]);
  return data;
}

/** What a server in a folder is started with: its words, on `data` with an empty shelf unless there is one, and where its tables and objects are. */
async function wishOf(folder: string, maxUploadBytes: number, flags: readonly string[], given: Readonly<Record<string, string>>) {
  const data = await laidOut(path.join(folder, 'data'));
  const words = ['--data', data, '--port', '0', '--empty', '--max-upload-mb', String(maxUploadBytes / 1e6), ...flags];
  const wished = { ...process.env, ...given };
  const database = wished['BEXLEN_TEST_POSTGRES'] ? { BEXLEN_DATABASE: await databaseOf(data) } : {};
  const env = { ...process.env, ...database, ...(await bucketOf(data, wished['BEXLEN_TEST_STORE'])), BEXLEN_LOG: 'warn', ...given };
  return { words, env };
}

/** Starts the built server in this process, which saves what a process of its own takes to begin. */
export async function startServer(
  folder: string,
  maxUploadBytes = 256e6,
  flags: readonly string[] = [],
  given: Readonly<Record<string, string>> = {},
): Promise<Running> {
  const { words, env } = await wishOf(folder, maxUploadBytes, flags, given);
  process.umask(0o077);
  const { begin } = (await import(path.join(root, 'build/server.mjs'))) as typeof import('../src/main');
  let log = '';
  const begun = await begin(words, env, root, pino({ level: env.BEXLEN_LOG }, { write: (line) => void (log += line) }));
  if (!begun) throw new Error('it was only asked for its use');
  const { running } = begun;
  let closed: Promise<void> | undefined;
  return { address: running.address, proxyPort: running.proxyPort, log: () => log, close: () => (closed ??= running.close()) };
}

/** Starts the built server as a process of its own, to be killed or looked at from outside. */
export async function startAlone(
  folder: string,
  maxUploadBytes = 256e6,
  flags: readonly string[] = [],
  given: Readonly<Record<string, string>> = {},
): Promise<RunningAlone> {
  const { words, env } = await wishOf(folder, maxUploadBytes, flags, given);
  const child = spawn(process.execPath, [...brief, 'build/server.mjs', ...words], { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], env });
  let log = '';
  let told = '';
  child.stderr.on('data', (part: Buffer) => (log += String(part)));
  const line = await new Promise<string>((resolve, reject) => {
    child.stdout.on('data', (part: Buffer) => {
      told += String(part);
      if (/at http:\/\/\S+/.test(told) && told.endsWith('\n')) resolve(told);
    });
    child.once('exit', (code) => reject(new Error(`the server ended with ${code}: ${log}`)));
  });
  const end = async (signal: 'SIGTERM' | 'SIGKILL'): Promise<void> => {
    if (child.exitCode !== null || child.signalCode !== null) return;
    const gone = once(child, 'exit');
    child.kill(signal);
    await gone;
  };
  const [, address = ''] = /at (http:\/\/\S+)/.exec(line) ?? [];
  return {
    address,
    get proxyPort() {
      const [, port] = /answered on 127\.0\.0\.1:(\d+)/.exec(told) ?? [];
      return port === undefined ? undefined : Number(port);
    },
    pid: child.pid ?? 0,
    log: () => log,
    ended: () => child.exitCode ?? child.signalCode ?? undefined,
    close: () => end('SIGTERM'),
    kill: () => end('SIGKILL'),
  };
}

export const newFolder = (): Promise<string> => fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-server-'));

/** A server that runs for all tests of a file, and its folder. */
export function serverForAll(maxUploadBytes: number): { readonly folder: string; readonly address: string; readonly log: () => string } {
  let folder = '';
  let running: Running | undefined;
  beforeAll(async () => {
    folder = await newFolder();
    running = await startServer(folder, maxUploadBytes);
  });
  afterAll(async () => {
    await running?.close();
    await fs.rm(folder, { recursive: true });
  });
  return {
    get folder() {
      return folder;
    },
    get address() {
      return running?.address ?? '';
    },
    log: () => running?.log() ?? '',
  };
}

/** Every file below a folder, without the database. */
export async function filesIn(folder: string): Promise<string[]> {
  const names = await fs.readdir(folder, { recursive: true, withFileTypes: true });
  return names
    .filter((entry) => entry.isFile() && !entry.parentPath.includes(`${path.sep}database`))
    .map((entry) => path.join(entry.parentPath, entry.name));
}

/** A made-up picture: a slope of tones with some texture. */
export function slope(width: number, height: number, channels: 3 | 4 = 3): Buffer {
  return Buffer.from(
    Array.from({ length: width * height * channels }, (_, i) => (channels === 4 && i % 4 === 3 ? 200 : (i * 7 + (i % 13) * 9) % 256)),
  );
}

export const jpeg = (width = 320, height = 200): Promise<Buffer> =>
  sharp(slope(width, height), { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 90 })
    .toBuffer();

/** A PNG of some size, black all over; or one that only claims it. */
export function png(width: number, height: number, depth: 8 | 16, interlaced: boolean, claimed = false): Buffer {
  const chunk = (type: string, data: Buffer): Buffer => {
    const body = Buffer.concat([Buffer.from(type), data]);
    const ends = Buffer.alloc(8);
    ends.writeUInt32BE(data.length, 0);
    ends.writeUInt32BE(zlib.crc32(body), 4);
    return Buffer.concat([ends.subarray(0, 4), body, ends.subarray(4)]);
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([depth, 2, 0, 0, Number(interlaced)], 8);
  // Of Adam7 (PNG, third edition, 8.2): where each pass begins, and its steps.
  const passes = interlaced
    ? [
        [0, 0, 8, 8],
        [4, 0, 8, 8],
        [0, 4, 4, 8],
        [2, 0, 4, 4],
        [0, 2, 2, 4],
        [1, 0, 2, 2],
        [0, 1, 1, 2],
      ]
    : [[0, 0, 1, 1]];
  const bytes = passes.reduce(
    (sum, [x = 0, y = 0, dx = 1, dy = 1]) => sum + Math.ceil((height - y) / dy) * (1 + (Math.ceil((width - x) / dx) * 3 * depth) / 8),
    0,
  );
  return Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    chunk('IHDR', head),
    chunk('IDAT', zlib.deflateSync(Buffer.alloc(claimed ? 100 : bytes), { level: 1 })),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

/** How long to wait, in ms, for what takes its time elsewhere before it is given up: a bound for what hangs, never a measure. `BEXLEN_PATIENCE` gives another, in seconds. */
const PATIENCE_MS = 1000 * Number(process.env['BEXLEN_PATIENCE'] ?? 300);

/** Tries again until something holds that takes its time in another process. */
export async function soon(check: () => Promise<void>): Promise<void> {
  const end = Date.now() + PATIENCE_MS;
  for (;;) {
    try {
      return await check();
    } catch (error) {
      if (Date.now() > end) throw error;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }
}
