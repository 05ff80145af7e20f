import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError, echoed, fitName } from '@bexlen/core';
import { LONGEST_NAME } from '@bexlen/api';
import type { Folder } from './folder';
import { isDeveloped, READS } from '@bexlen/render/decode/inspect';
import type { Decoders } from './decoders/decoders';
import type { Db } from './store/db';
import { isWhole, keepMade, keepOriginal, receive, removeOriginal, type Received } from './store/originals';
import { addPhoto, changePhoto, photoByHash } from './store/photos';

export interface Imported {
  readonly id: string;
  /** The same file was on the shelf already. */
  readonly known: boolean;
  /** What there is to tell of it. */
  readonly notes?: readonly string[];
}

/** Takes a file in: hashed, looked at, kept, entered. The file itself stays where it is. Whatever goes wrong leaves neither rows nor other files. */
export async function importPhoto(db: Db, folder: Folder, decoders: Decoders, file: string, fileName: string, rollId?: string): Promise<Imported> {
  const received = await receive(folder, file);
  try {
    return await enter(db, folder, decoders, received, fileName, rollId);
  } finally {
    await fs.rm(received.file, { force: true });
    await fs.rm(`${received.file}-thumb`, { force: true });
    await fs.rm(`${received.file}-developed`, { force: true });
  }
}

async function enter(
  db: Db,
  folder: Folder,
  decoders: Decoders,
  received: Received,
  fileName: string,
  rollId: string | undefined,
): Promise<Imported> {
  if (received.bytes === 0) throw new BexlenError('no-picture', `${echoed(fileName)} is empty.`, `Bexlen reads ${READS}.`);
  const twin = await photoByHash(db, received.hash);
  if (twin) {
    if (twin.binned) await changePhoto(db, twin.id, { binned: false });
    if (await isWhole(folder, twin)) return { id: twin.id, known: true };
    await keepOriginal(folder, received);
    return { id: twin.id, known: true, notes: [`The original of “${echoed(twin.name)}” was missing and is back.`] };
  }
  const thumb = `${received.file}-thumb`;
  const developed = `${received.file}-developed`;
  const facts = await decoders.inspect(received.file, echoed(fileName), thumb, developed);
  await keepMade(folder, received.hash, { thumb, ...(isDeveloped(facts.format) && { developed }) });
  await keepOriginal(folder, received);
  try {
    const given = { ...facts, hash: received.hash, bytes: received.bytes, name: nameOf(fileName), ...(rollId && { rollId }) };
    return { id: await addPhoto(db, given), known: false };
  } catch (error) {
    // The same file may have come twice at once; the other one has it now.
    const first = await photoByHash(db, received.hash);
    if (!first) {
      await removeOriginal(folder, received.hash);
      throw error;
    }
    return { id: first.id, known: true };
  }
}

const nameOf = (fileName: string): string => fitName(path.parse(fileName).name, LONGEST_NAME, 'Photo');
