import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import fs from 'node:fs/promises';
import path from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { writePam } from '@bexlen/core';
import type { Folder } from '../folder';
import { decodeFitted } from '../images/decode';
import { inspect } from '../images/inspect';
import type { PhotoRow } from './photos';

export const originalPath = ({ originals }: Folder, hash: string): string => path.join(originals, hash.slice(0, 2), hash);
/** The shelf's JPEG of an untouched original. */
export const thumbFile = (folder: Folder, { hash, name }: Pick<PhotoRow, 'hash' | 'name'>): Promise<string> =>
  derived(folder, hash, 'thumb.jpg', async () => (await inspect(originalPath(folder, hash), name)).thumb);

/** Decoded pixels of an original that fit a long edge, as a file that can be made again. */
export async function fittedFile(folder: Folder, { hash, depth, alpha }: Pick<PhotoRow, 'hash' | 'depth' | 'alpha'>, edge: number): Promise<string> {
  return derived(folder, hash, `${edge}.pam`, async () => {
    const { layout, pixels } = await decodeFitted({ file: originalPath(folder, hash), depth, alpha }, edge);
    return writePam(layout, pixels);
  });
}

export const derivedPath = ({ derived }: Folder, hash: string, what: string): string => path.join(derived, `${hash}-${what}`);

export interface Received {
  readonly file: string;
  readonly hash: string;
  readonly bytes: number;
}

/** Writes a stream to an unfinished file, counting and hashing as it goes. On any fault nothing is left. */
export async function receive(folder: Folder, stream: Readable): Promise<Received> {
  const file = path.join(folder.unfinished, `upload-${randomUUID()}`);
  const sum = createHash('sha256');
  let bytes = 0;
  const watch = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      sum.update(chunk);
      bytes += chunk.length;
      done(null, chunk);
    },
  });
  try {
    await pipeline(stream, watch, createWriteStream(file));
  } catch (error) {
    await fs.rm(file, { force: true });
    throw error;
  }
  return { file, hash: sum.digest('hex'), bytes };
}

/** Moves a received file to its place among the originals. */
export async function keepOriginal(folder: Folder, { file, hash }: Received): Promise<void> {
  const to = originalPath(folder, hash);
  await fs.mkdir(path.dirname(to), { recursive: true });
  await fs.rename(file, to);
}

/** A file that can be made again: what is there, or what `make` gives, written whole or not at all. */
export async function derived(folder: Folder, hash: string, what: string, make: () => Promise<Uint8Array>): Promise<string> {
  const to = derivedPath(folder, hash, what);
  const there = await fs.stat(to).catch(() => undefined);
  if (!there) await writeWhole(folder, to, await make());
  return to;
}

export async function writeWhole(folder: Folder, to: string, bytes: Uint8Array): Promise<void> {
  const file = path.join(folder.unfinished, `derived-${randomUUID()}`);
  try {
    await fs.writeFile(file, bytes);
    await fs.rename(file, to);
  } catch (error) {
    await fs.rm(file, { force: true });
    throw error;
  }
}
