import fs from 'node:fs/promises';
import path from 'node:path';
import type { Orphan } from '@bexlen/api';
import { intoPlace, lastingFolder } from '../files/durable';
import type { Folder } from '../folder';
import { isThere } from './originals';

/** Originals that no photo names, as a broken-off import or a lost database leaves them: kept aside, by their hash, until somebody takes them back to the shelf or throws them away. */

const HASH = /^[0-9a-f]{64}$/;
const pathOf = (folder: Folder, hash: string): string => path.join(folder.orphans, hash);

/** Moves originals of a store of one's own aside that no photo names; empty ones are nothing and go. Returns how many were moved. */
export async function setAside(folder: Folder, known: ReadonlySet<string>): Promise<number> {
  const { objects } = folder;
  let moved = 0;
  for await (const { key, bytes } of objects.list('originals')) {
    const name = path.posix.basename(key);
    if (known.has(name)) continue;
    const file = bytes > 0 ? await objects.file(key) : undefined;
    if (file !== undefined) {
      await lastingFolder(folder.orphans);
      await intoPlace(file, pathOf(folder, HASH.test(name) ? name : `${name.slice(0, 40)}`));
      moved++;
    }
    await objects.remove(key);
  }
  return moved;
}

/** All that were set aside, the latest first. */
export async function allOrphans(folder: Folder): Promise<Orphan[]> {
  const names = (await fs.readdir(folder.orphans)).filter((name) => HASH.test(name));
  const all = await Promise.all(
    names.map(async (hash) => {
      const { size, ctime } = await fs.stat(pathOf(folder, hash));
      return { id: hash, bytes: size, foundAt: ctime.toISOString() };
    }),
  );
  return all.sort((a, b) => (a.foundAt < b.foundAt ? 1 : -1));
}

/** Where one lies; undefined if it is not there. */
export async function orphanFile(folder: Folder, id: string): Promise<string | undefined> {
  return HASH.test(id) && (await isThere(pathOf(folder, id))) ? pathOf(folder, id) : undefined;
}
