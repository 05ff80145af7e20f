import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import zlib from 'node:zlib';
import sharp from 'sharp';
import { newLog } from '../src/log';
import { start, type Running, type Settings } from '../src/server';

const root = path.join(__dirname, '../..');

/** A server on a folder of its own, with the built engine and a page of one line. */
export async function startServer(data: string, maxUploadBytes = 256e6, more: Pick<Settings, 'phone' | 'proxy'> = {}): Promise<Running> {
  const site = path.join(data, 'site');
  await fs.mkdir(site, { recursive: true });
  await fs.writeFile(path.join(site, 'index.html'), '<html><style>body{margin:0}</style></html>');
  return start({
    data: path.join(data, 'data'),
    port: 0,
    site,
    migrations: path.join(root, 'server/src/store/migrations'),
    looks: path.join(root, 'looks'),
    fonts: path.join(root, 'build/fonts'),
    engine: { worker: path.join(root, 'build/worker.mjs'), kernels: path.join(root, 'build/kernels.wasm') },
    reader: path.join(root, 'build/reader.mjs'),
    checks: path.join(root, 'build/checks.mjs'),
    pairPage: path.join(root, 'build/pair'),
    ...more,
    maxUploadBytes,
    log: newLog('silent'),
  });
}

export const newFolder = (): Promise<string> => fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-server-'));

/** A server that runs for all tests of a file, and its folder. */
export function serverForAll(maxUploadBytes: number): { readonly folder: string; readonly address: string } {
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

export async function upload(
  address: string,
  bytes: Buffer,
  name: string,
): Promise<{ status: number; body: Record<string, never> & { code?: string; message?: string; hint?: string } }> {
  const form = new FormData();
  form.append('photo', new Blob([new Uint8Array(bytes)]), name);
  const answer = await fetch(`${address}/api/photos`, { method: 'POST', body: form });
  return { status: answer.status, body: await answer.json() };
}

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
