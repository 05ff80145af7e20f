import fs from 'node:fs/promises';
import path from 'node:path';
import type { Folder } from '../folder';

/** Whether the doors to the network were opened by hand, also over a restart: a file that is there or not. */
const fileIn = ({ phone }: Folder): string => path.join(phone, 'open');

export const isChosen = (folder: Folder): Promise<boolean> =>
  fs.access(fileIn(folder)).then(
    () => true,
    () => false,
  );

export async function choose(folder: Folder, open: boolean): Promise<void> {
  if (!open) return fs.rm(fileIn(folder), { force: true });
  await fs.mkdir(folder.phone, { recursive: true, mode: 0o700 });
  await fs.writeFile(fileIn(folder), '');
}
