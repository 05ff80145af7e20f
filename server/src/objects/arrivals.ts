import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import fs from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { FileStore } from '@tus/file-store';
import type { Folder } from '../folder';
import { PartsStore } from './parts-store';

/** An upload that nobody went on with is thrown away after so long. */
const KEPT_MS = 3 * 86_400_000;

/** Files that are on their way to the shelf: in parts, until they are whole. The name of each begins with its owner's, and a point. */
export interface Arrivals {
  /** Where the protocol puts what comes. */
  readonly store: FileStore | PartsStore;
  /** How many an owner has begun. */
  begun(owner: string): Promise<number>;
  /** Reads one that has come as a whole, as a file of this machine. */
  read<T>(id: string, use: (file: string) => Promise<T>): Promise<T>;
  /** Removes all that an owner has begun. */
  throwAway(owner: string): Promise<void>;
}

/** What is on its way: in the data folder where all is there, else among the objects, where any process goes on with it. */
export const arrivalsOf = (folder: Folder): Arrivals => (folder.objects.own ? inFolder(folder) : amongObjects(folder));

function inFolder({ uploads: directory }: Folder): Arrivals {
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

function amongObjects({ objects, unfinished }: Folder): Arrivals {
  const store = new PartsStore(objects, unfinished, KEPT_MS);
  const of = async (owner: string): Promise<string[]> => (await store.ids()).filter((id) => id.startsWith(`${owner}.`));
  return {
    store,
    begun: async (owner) => (await of(owner)).length,
    read: async (id, use) => {
      const file = path.join(unfinished, `arrived-${randomUUID()}`);
      try {
        await pipeline(await store.read(id), createWriteStream(file, { mode: 0o600 }));
        return await use(file);
      } finally {
        await fs.rm(file, { force: true });
      }
    },
    throwAway: async (owner) => {
      for (const id of await of(owner)) await store.remove(id);
    },
  };
}
