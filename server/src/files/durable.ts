import fs from 'node:fs/promises';
import path from 'node:path';

/** Writes through to the disk what the system still holds back of a file, or of the list of names of a folder. */
async function sync(place: string): Promise<void> {
  const handle = await fs.open(place, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Moves a finished file into its place, so that it is there, whole and under its name, whatever happens to the machine from then on. Both lie on one file system. */
export async function intoPlace(from: string, to: string): Promise<void> {
  await sync(from);
  await fs.rename(from, to);
  await sync(path.dirname(to));
}

/** Makes a folder that a power cut cannot take away again. */
export async function lastingFolder(folder: string): Promise<void> {
  const first = await fs.mkdir(folder, { recursive: true });
  if (first !== undefined) await sync(path.dirname(first));
}

/** Takes from others what they may do with a folder and all that lies in it. */
export async function forOwnerOnly(folder: string): Promise<void> {
  const entries = await fs.readdir(folder, { recursive: true, withFileTypes: true });
  for (const entry of [...entries.map(({ parentPath, name }) => path.join(parentPath, name)), folder]) {
    const { mode } = await fs.lstat(entry);
    if ((mode & 0o077) !== 0) await fs.chmod(entry, mode & 0o700);
  }
}

/** Writes a folder through to the disk, with all that lies in it. */
export async function syncTree(folder: string): Promise<void> {
  const entries = await fs.readdir(folder, { recursive: true, withFileTypes: true });
  for (const entry of entries) if (entry.isFile() || entry.isDirectory()) await sync(path.join(entry.parentPath, entry.name));
  await sync(folder);
}
