import fs from 'node:fs/promises';
import path from 'node:path';
import type { Readable } from 'node:stream';
import type { Folder } from './folder';
import type { Decoders } from './decoders/decoders';
import { importPhoto, type Imported } from './importer';
import { importOra } from './ora/import';
import { receive } from './store/originals';
import type { Db } from './store/db';

/** Takes in what somebody sends to the shelf: a photo, or a file of layers, by what it is called. */
export async function takeIn(db: Db, folder: Folder, decoders: Decoders, stream: Readable, fileName: string): Promise<Imported> {
  if (path.extname(fileName).toLowerCase() !== '.ora') return importPhoto(db, folder, decoders, stream, fileName);
  const received = await receive(folder, stream);
  try {
    return await importOra(db, folder, decoders, received.file, path.parse(fileName).name);
  } finally {
    await fs.rm(received.file, { force: true });
  }
}
