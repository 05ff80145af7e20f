import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import fs from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { FileStore } from '@tus/file-store';
import type { S3Store } from '@tus/s3-store';
import type { Folder } from '../folder';

/** An upload that nobody went on with is thrown away after so long. */
const KEPT_MS = 3 * 86_400_000;

/** Files that are on their way to the shelf: in parts, until they are whole. The name of each begins with its owner's, and a point. */
export interface Arrivals {
  /** Where the protocol puts what comes. */
  readonly store: FileStore | S3Store;
  /** How many an owner has begun. */
  begun(owner: string): Promise<number>;
  /** Reads one that has come as a whole, as a file of this machine. */
  read<T>(id: string, use: (file: string) => Promise<T>): Promise<T>;
  /** Removes all that an owner has begun. */
  throwAway(owner: string): Promise<void>;
}

/** Opens what is on its way, beside the objects. @param where as for `openObjects`. */
export async function openArrivals(where: string | undefined, folder: Folder): Promise<Arrivals> {
  return where?.startsWith('s3:') ? inBucket(where, folder) : inFolder(where === undefined ? folder.uploads : path.join(where, 'uploads'));
}

async function inFolder(directory: string): Promise<Arrivals> {
  const { FileStore } = await import('@tus/file-store');
  await fs.mkdir(directory, { recursive: true });
  const of = async (owner: string): Promise<string[]> => (await fs.readdir(directory)).filter((name) => name.startsWith(`${owner}.`));
  return {
    store: new FileStore({ directory, expirationPeriodInMilliseconds: KEPT_MS }),
    begun: async (owner) => (await of(owner)).filter((name) => !name.endsWith('.json')).length,
    read: (id, use) => use(path.join(directory, id)),
    throwAway: async (owner) => {
      await Promise.all((await of(owner)).map((name) => fs.rm(path.join(directory, name), { force: true })));
    },
  };
}

async function inBucket(where: string, folder: Folder): Promise<Arrivals> {
  const [{ S3Store }, { configOf, namesIn, readAddress }] = await Promise.all([import('@tus/s3-store'), import('./s3')]);
  const address = readAddress(where);
  const store = new S3Store({
    expirationPeriodInMilliseconds: KEPT_MS,
    // Not every store has tags; what is over goes by its age.
    useTags: false,
    s3ClientConfig: { ...configOf(address), bucket: address.bucket },
  });
  const of = (owner: string): Promise<string[]> => namesIn(address, `${owner}.`);
  return {
    store,
    begun: async (owner) => (await of(owner)).filter((name) => name.endsWith('.info')).length,
    read: async (id, use) => {
      const file = path.join(folder.unfinished, `arrived-${randomUUID()}`);
      try {
        await pipeline(await store.read(id), createWriteStream(file, { mode: 0o600 }));
        return await use(file);
      } finally {
        await fs.rm(file, { force: true });
      }
    },
    throwAway: async (owner) => {
      const ids = (await of(owner)).filter((name) => name.endsWith('.info')).map((name) => name.slice(0, -'.info'.length));
      await Promise.all(ids.map((id) => store.remove(id)));
    },
  };
}
