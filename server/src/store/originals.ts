import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError, echoed, type Rect } from '@bexlen/core';
import { intoPlace } from '../files/durable';
import { hashOf } from '../files/hash';
import type { Folder } from '../folder';
import type { Source } from '@bexlen/render/decode/decode';
import { isDeveloped } from '@bexlen/render/decode/inspect';
import { isRawFormat } from '@bexlen/render/decode/raw';
import type { Decoders, Wish } from '../decoders/decoders';
import { Shared } from '../jobs/shared';
import type { PhotoRow } from './photos';

/** The name of an original among the objects. */
export const originalKey = (hash: string): string => `originals/${hash.slice(0, 2)}/${hash}`;
/** What is made of an original and kept for every process. */
const keptKey = (hash: string, what: string): string => `derived/${hash}-${what}`;

/** A file of this machine that holds an original. @throws {BexlenError} `not-found` where it is lost. */
export async function originalFile({ objects }: Folder, hash: string, name: string): Promise<string> {
  const file = await objects.file(originalKey(hash));
  if (file === undefined) throw missing(name);
  return file;
}
/** The shelf's JPEG of an untouched original. */
export const thumbFile = (folder: Folder, decoders: Decoders, { hash, name, format }: Pick<PhotoRow, 'hash' | 'name' | 'format'>): Promise<string> =>
  // What a raw file is is told by its ending.
  derived(folder, hash, THUMB, async (to) =>
    decoders.inspect(await originalFile(folder, hash, name), isRawFormat(format) ? `${name}.${format}` : name, to),
  );

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
  const original = await originalFile(folder, hash, name);
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
const DEVELOPED = 'developed.png';
const THUMB = 'thumb.jpg';
/** What of a photo costs so much to make that it is kept for every process. */
const KEPT = new Set([THUMB, DEVELOPED]);

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
  await removeOriginal(folder, hash);
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
    return { file, ...(await hashOf(file)) };
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
export const keepOriginal = ({ objects }: Folder, { file, hash }: Received): Promise<void> => objects.keep(originalKey(hash), file, hash);

/** Keeps what was made of a photo while it was looked at: its picture for the shelf, and what it was developed into, where it was. */
export async function keepMade(folder: Folder, hash: string, made: { readonly thumb: string; readonly developed?: string }): Promise<void> {
  if (made.developed !== undefined) await kept(folder, made.developed, hash, DEVELOPED);
  await kept(folder, made.thumb, hash, THUMB);
}

/** Moves what was made of a photo to its place in the data folder, and where that is not the store, there too. */
async function kept(folder: Folder, file: string, hash: string, what: string): Promise<void> {
  const to = derivedPath(folder, hash, what);
  if (!folder.objects.own && KEPT.has(what)) {
    const copy = `${file}-kept`;
    await fs.copyFile(file, copy);
    // It can be made again.
    await folder.objects.keep(keptKey(hash, what), copy).catch(() => fs.rm(copy, { force: true }));
  }
  await intoPlace(file, to);
}

/** Whether a file is there and holds anything: a power cut can leave a name without contents. */
export const isThere = (file: string): Promise<boolean> =>
  fs.stat(file).then(
    ({ size }) => size > 0,
    () => false,
  );

/** Whether an original is there, as long as it was. A store that does not answer is not taken for a loss. */
export const isWhole = (folder: Folder, { hash, bytes }: Pick<PhotoRow, 'hash' | 'bytes'>): Promise<boolean> =>
  folder.objects.size(originalKey(hash)).then(
    (size) => size === bytes,
    () => true,
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
  if (!folder.objects.own && KEPT.has(what)) {
    const there = await folder.objects.file(keptKey(hash, what)).catch(() => undefined);
    if (there !== undefined) return there;
  }
  await underWay.ask(to, signal, (wanted) =>
    unfinished(folder, async (file) => {
      await make(file, wanted);
      await kept(folder, file, hash, what);
    }),
  );
  return to;
}

/** Keeps bytes as an object. */
export const keepBytes = (folder: Folder, key: string, bytes: Uint8Array): Promise<void> =>
  unfinished(folder, async (file) => {
    await fs.writeFile(file, bytes);
    await folder.objects.keep(key, file);
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

/** Removes an original, its picture for the shelf, what it was developed into, and the small pictures of its versions. */
export async function removeOriginal(folder: Folder, hash: string): Promise<void> {
  const { objects } = folder;
  await objects.remove(originalKey(hash));
  for (const what of KEPT) {
    await fs.rm(derivedPath(folder, hash, what), { force: true });
    if (!objects.own) await objects.remove(keptKey(hash, what));
  }
  if (!objects.own) for await (const { key } of objects.list(`thumbs/${hash}`)) await objects.remove(key);
}
