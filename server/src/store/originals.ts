import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError, echoed, type Rect } from '@bexlen/core';
import { intoPlace, lastingFolder } from '../files/durable';
import type { Folder } from '../folder';
import type { Source } from '@bexlen/render/decode/decode';
import { isDeveloped } from '@bexlen/render/decode/inspect';
import { isRawFormat } from '@bexlen/render/decode/raw';
import type { Decoders, Wish } from '../decoders/decoders';
import { Shared } from '../jobs/shared';
import type { PhotoRow } from './photos';

export const originalPath = ({ originals }: Folder, hash: string): string => path.join(originals, hash.slice(0, 2), hash);
/** The shelf's JPEG of an untouched original. */
export const thumbFile = (folder: Folder, decoders: Decoders, { hash, name, format }: Pick<PhotoRow, 'hash' | 'name' | 'format'>): Promise<string> =>
  // What a raw file is is told by its ending.
  derived(folder, hash, 'thumb.jpg', (to) => decoders.inspect(originalPath(folder, hash), isRawFormat(format) ? `${name}.${format}` : name, to));

/** Decoded pixels of an original that fit a long edge, as a file that can be made again. */
export const fittedFile = (folder: Folder, decoders: Decoders, row: Original, edge: number, wish: Wish = {}): Promise<string> =>
  derived(
    folder,
    row.hash,
    `${edge}.pam`,
    async (to, signal) => decoders.pixels(await sourceOf(folder, decoders, row), edge, to, undefined, { ...wish, signal }),
    wish.signal,
  );

type Original = Pick<PhotoRow, 'hash' | 'depth' | 'alpha' | 'gamut' | 'headroom' | 'format' | 'name'>;

/** What a photo's pixels are read from: its original, or what that was developed into, which is made again where it is missing. */
export async function sourceOf(folder: Folder, decoders: Decoders, { hash, depth, alpha, gamut, headroom, format, name }: Original): Promise<Source> {
  const original = originalPath(folder, hash);
  if (!(await isThere(original))) throw missing(name);
  if (!isDeveloped(format)) return { file: original, depth, alpha, gamut };
  return {
    file: await derived(folder, hash, DEVELOPED, (to) => decoders.develop(original, name, format, to)),
    depth,
    alpha,
    gamut,
    original,
    ...(headroom !== null && { headroom }),
  };
}
/** Of a photo that is developed, beside what is made of it. */
export const DEVELOPED = 'developed.png';

/** Decoded pixels that are wanted once: of a rectangle, or of all, to fit a long edge. A portable arbitrary map. */
export function pixelsOnce(folder: Folder, decoders: Decoders, row: Original, edge: number, part?: Rect, wish: Wish = {}): Promise<Buffer> {
  return unfinished(folder, async (file) => {
    await decoders.pixels(await sourceOf(folder, decoders, row), edge, file, part, wish);
    return fs.readFile(file);
  });
}

export const derivedPath = ({ derived }: Folder, hash: string, what: string): string => path.join(derived, `${hash}-${what}`);

/** Removes an original and all that was made of it. */
export async function forgetOriginal(folder: Folder, hash: string): Promise<void> {
  await fs.rm(originalPath(folder, hash), { force: true });
  const made = (await fs.readdir(folder.derived).catch(() => [])).filter((name) => name.startsWith(`${hash}-`));
  await Promise.all(made.map((name) => fs.rm(path.join(folder.derived, name), { force: true })));
}

export interface Received {
  readonly file: string;
  readonly hash: string;
  readonly bytes: number;
}

/**
 * Gives a file a second name among the unfinished ones, so that its bytes are not written once more, and hashes it. One from outside the data folder is copied, as all
 * are where a file system knows one name for each only. On any fault nothing is left.
 */
export async function receive(folder: Folder, from: string): Promise<Received> {
  const file = path.join(folder.unfinished, `received-${randomUUID()}`);
  try {
    const isOurs = !path.relative(folder.root, from).startsWith('..');
    await (isOurs ? fs.link(from, file).catch(() => copied(from, file)) : copied(from, file));
    const sum = createHash('sha256');
    let bytes = 0;
    for await (const chunk of createReadStream(file, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
      sum.update(chunk);
      bytes += chunk.length;
    }
    return { file, hash: sum.digest('hex'), bytes };
  } catch (error) {
    await fs.rm(file, { force: true });
    throw error;
  }
}

/** Copies a file, for the owner of the data folder alone. */
async function copied(from: string, to: string): Promise<void> {
  await fs.copyFile(from, to);
  await fs.chmod(to, 0o600);
}

/** Moves a received file to its place among the originals, for good. */
export async function keepOriginal(folder: Folder, { file, hash }: Received): Promise<void> {
  const to = originalPath(folder, hash);
  await lastingFolder(path.dirname(to));
  await intoPlace(file, to);
}

/** Whether a file is there and holds anything: a power cut can leave a name without contents. */
export const isThere = (file: string): Promise<boolean> =>
  fs.stat(file).then(
    ({ size }) => size > 0,
    () => false,
  );

/** Whether an original is there, as long as it was. */
export const isWhole = (folder: Folder, { hash, bytes }: Pick<PhotoRow, 'hash' | 'bytes'>): Promise<boolean> =>
  fs.stat(originalPath(folder, hash)).then(
    ({ size }) => size === bytes,
    () => false,
  );

export const missing = (name: string): BexlenError =>
  new BexlenError(
    'not-found',
    `The original of “${echoed(name)}” is missing.`,
    'Import the same file again: the photo and its versions are still here.',
  );

const underWay = new Shared<void>();

/** A file that can be made again: what is there, or what `make` writes, whole or not at all; once for all who ask at the same time. */
export async function derived(
  folder: Folder,
  hash: string,
  what: string,
  make: (to: string, signal: AbortSignal) => Promise<unknown>,
  signal?: AbortSignal,
): Promise<string> {
  const to = derivedPath(folder, hash, what);
  if (await isThere(to)) return to;
  await underWay.ask(to, signal, (wanted) =>
    unfinished(folder, async (file) => {
      await make(file, wanted);
      await intoPlace(file, to);
    }),
  );
  return to;
}

export const writeWhole = (folder: Folder, to: string, bytes: Uint8Array): Promise<void> =>
  unfinished(folder, async (file) => {
    await fs.writeFile(file, bytes);
    await intoPlace(file, to);
  });

/** Uses a file among the unfinished ones, of which nothing is left there. */
async function unfinished<T>(folder: Folder, use: (file: string) => Promise<T>): Promise<T> {
  const file = path.join(folder.unfinished, `derived-${randomUUID()}`);
  try {
    return await use(file);
  } finally {
    await fs.rm(file, { force: true });
  }
}

/** Removes an original, its picture for the shelf, and what it was developed into. */
export async function removeOriginal(folder: Folder, hash: string): Promise<void> {
  await fs.rm(originalPath(folder, hash), { force: true });
  for (const made of ['thumb.jpg', DEVELOPED]) await fs.rm(derivedPath(folder, hash, made), { force: true });
}
