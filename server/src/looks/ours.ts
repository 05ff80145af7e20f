import fs from 'node:fs/promises';
import path from 'node:path';
import { readLook, type Look } from '@bexlen/core';

/** Looks that come with Bexlen, by their ids: one file each, in folders. Their order is that of the files. Throws where one cannot be read. */
export async function ourLooks(root: string): Promise<ReadonlyMap<string, Look>> {
  const looks = new Map<string, Look>();
  for (const folder of (await fs.readdir(root)).sort())
    for (const file of (await fs.readdir(path.join(root, folder))).sort()) {
      const { look, faults } = readLook(await fs.readFile(path.join(root, folder, file), 'utf8'));
      if (!look) throw new Error(`${folder}/${file}: ${JSON.stringify(faults[0])}`);
      looks.set(`ours-${path.parse(file).name}`, look);
    }
  return looks;
}
