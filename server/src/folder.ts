import fs from 'node:fs/promises';
import path from 'node:path';
import lockfile from 'proper-lockfile';
import { BexlenError } from '@bexlen/core';
import { openObjects, type Objects } from './objects/objects';

/** A lock that has not been touched for so long was left by a process that is gone. */
const STALE_MS = 5000;

/** Nobody else on the machine may look into it, whatever stands within. */
const OWN = 0o700;

/** A data folder and what lies where in it. */
export interface Folder {
  readonly root: string;
  readonly database: string;
  /** Made from originals; can be thrown away at any time. */
  readonly derived: string;
  /** Originals that no photo names. */
  readonly orphans: string;
  /** What is kept for good: here, or where all processes find it. */
  readonly objects: Objects;
  /** Uploads that are under way, also over a restart. */
  readonly uploads: string;
  /** The authority behind the addresses in the network, and this machine's certificate. */
  readonly phone: string;
  /** Half-written files; emptied at every start. */
  readonly unfinished: string;
  readonly release: () => Promise<void>;
}

/**
 * Takes a data folder for this process alone.
 * @param store where objects are kept; in the folder, unless given.
 * @throws {BexlenError} `folder-in-use` if another one has it, `no-store` where the store cannot be had.
 */
export async function takeFolder(root: string, store?: string): Promise<Folder> {
  const at = (name: string): string => path.join(root, name);
  const folder = {
    root,
    database: at('database'),
    derived: at('derived'),
    orphans: at('orphans'),
    uploads: at('uploads'),
    phone: at('phone'),
    unfinished: at('unfinished'),
  };
  await fs.mkdir(root, { recursive: true, mode: OWN });
  await fs.chmod(root, OWN);
  const release = await lock(root);
  await fs.rm(folder.unfinished, { recursive: true, force: true });
  await Promise.all([folder.orphans, folder.derived, folder.uploads, folder.unfinished].map((dir) => fs.mkdir(dir, { recursive: true })));
  try {
    return { ...folder, objects: await openObjects(store, root), release };
  } catch (error) {
    await release();
    throw error;
  }
}

async function lock(root: string): Promise<() => Promise<void>> {
  const owner = path.join(root, 'owner.pid');
  const take = async (): Promise<() => Promise<void>> => {
    const release = await lockfile.lock(root, { stale: STALE_MS, update: STALE_MS / 4, realpath: true });
    await fs.writeFile(owner, String(process.pid));
    return release;
  };
  try {
    return await take();
  } catch (error) {
    if ((error as { code?: string }).code !== 'ELOCKED') throw error;
  }
  const pid = await pidIn(owner);
  if (pid > 0 && pid !== process.pid && isAlive(pid)) throw inUse(root, pid);
  if (!(await inherited(root, owner, pid))) await new Promise((resolve) => setTimeout(resolve, STALE_MS + 500));
  return take().catch(() => {
    throw inUse(root, pid);
  });
}

const pidIn = (file: string): Promise<number> => fs.readFile(file, 'utf8').then(Number, () => 0);

/**
 * Takes the lock of a process that is gone out of the way, at once. Of several that try, the one that moves its owner file wins; one that moved the file
 * of a later owner puts it back.
 */
async function inherited(root: string, owner: string, gone: number): Promise<boolean> {
  const mine = `${owner}.${process.pid}`;
  if (gone === 0 || gone === process.pid || !(await moved(owner, mine))) return false;
  if ((await pidIn(mine)) !== gone) {
    await moved(mine, owner);
    return false;
  }
  await fs.rm(`${await fs.realpath(root)}.lock`, { recursive: true, force: true });
  await fs.rm(mine);
  return true;
}

const moved = (from: string, to: string): Promise<boolean> =>
  fs.rename(from, to).then(
    () => true,
    () => false,
  );

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    // There is no such process.
    return false;
  }
}

const inUse = (root: string, pid: number): BexlenError =>
  new BexlenError(
    'folder-in-use',
    `The data folder ${root} is in use by another Bexlen (process ${pid}).`,
    'Use the one that runs, or start with --data DIR for a folder of its own.',
  );
