import fs from 'node:fs/promises';
import path from 'node:path';
import type { Readable } from 'node:stream';
import { BexlenError } from '@bexlen/core';
import type { Folder } from './folder';
import { inspect, READS } from './images/inspect';
import type { Db } from './store/db';
import { derivedPath, keepOriginal, receive, writeWhole, type Received } from './store/originals';
import { addPhoto, changePhoto, photoByHash } from './store/photos';

export interface Imported {
  readonly id: string;
  /** The same file was on the shelf already. */
  readonly known: boolean;
}

/** Takes a file in: received, looked at, kept, entered. Whatever goes wrong leaves neither rows nor files. */
export async function importPhoto(db: Db, folder: Folder, stream: Readable, fileName: string): Promise<Imported> {
  const received = await receive(folder, stream);
  try {
    return await enter(db, folder, received, fileName);
  } finally {
    await fs.rm(received.file, { force: true });
  }
}

async function enter(db: Db, folder: Folder, received: Received, fileName: string): Promise<Imported> {
  if (received.bytes === 0) throw new BexlenError('no-picture', `${fileName} is empty.`, `Bexlen reads ${READS}.`);
  const twin = await photoByHash(db, received.hash);
  if (twin) {
    if (twin.binned) await changePhoto(db, twin.id, { binned: false });
    return { id: twin.id, known: true };
  }
  const { thumb, ...facts } = await inspect(received.file, fileName);
  await writeWhole(folder, derivedPath(folder, received.hash, 'thumb.jpg'), thumb);
  await keepOriginal(folder, received);
  try {
    return { id: await addPhoto(db, { ...facts, hash: received.hash, bytes: received.bytes, name: nameOf(fileName) }), known: false };
  } catch (error) {
    // The same file may have come twice at once; the other one has it now.
    const first = await photoByHash(db, received.hash);
    if (!first) throw error;
    return { id: first.id, known: true };
  }
}

const nameOf = (fileName: string): string => path.parse(fileName).name.slice(0, 120) || 'Photo';
