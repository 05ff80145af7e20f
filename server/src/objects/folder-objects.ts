import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError } from '@bexlen/core';
import { intoPlace, lastingFolder } from '../files/durable';
import type { Objects } from './objects';

/** Objects as files of a folder. */
export async function inFolder(root: string, own: boolean): Promise<Objects> {
  const at = (key: string): string => path.join(root, key);
  const size = (key: string): Promise<number | undefined> =>
    fs.stat(at(key)).then(
      // A power cut can leave a name without contents.
      (stat) => (stat.size > 0 ? stat.size : undefined),
      () => undefined,
    );
  await fs.mkdir(root, { recursive: true }).then(
    () => (own ? undefined : tryToWrite(root)),
    (error: unknown) => Promise.reject(refusal(root, error)),
  );
  return {
    own,
    size,
    file: async (key) => ((await size(key)) === undefined ? undefined : at(key)),
    keep: async (key, file) => {
      await lastingFolder(path.dirname(at(key)));
      await intoPlace(file, at(key)).catch(async (error: unknown) => {
        if ((error as { code?: string }).code !== 'EXDEV') throw error;
        await across(file, at(key));
      });
    },
    remove: (key) => fs.rm(at(key), { force: true }),
    async *list(prefix) {
      const folder = at(prefix);
      const entries = await fs.readdir(folder, { recursive: true, withFileTypes: true }).catch(() => []);
      for (const entry of entries) {
        if (!entry.isFile()) continue;
        const file = path.join(entry.parentPath, entry.name);
        const key = path.relative(root, file).split(path.sep).join('/');
        yield { key, bytes: (await size(key)) ?? 0 };
      }
    },
    link: () => Promise.resolve(undefined),
  };
}

/** Moves a file to another file system: whole, under its name, or not at all. */
async function across(from: string, to: string): Promise<void> {
  const beside = `${to}.${randomUUID()}`;
  try {
    await fs.copyFile(from, beside);
    await intoPlace(beside, to);
  } catch (error) {
    await fs.rm(beside, { force: true });
    throw error;
  }
  await fs.rm(from);
}

async function tryToWrite(root: string): Promise<void> {
  const file = path.join(root, `.written-${randomUUID()}`);
  try {
    await fs.writeFile(file, '');
    await fs.rm(file);
  } catch (error) {
    throw refusal(root, error);
  }
}

const refusal = (root: string, error: unknown): BexlenError =>
  new BexlenError(
    'no-store',
    `The store ${root} cannot be written to: ${(error as { code?: string }).code ?? String(error)}.`,
    'Look whether it is there and whose it is, and at BEXLEN_STORE.',
  );
