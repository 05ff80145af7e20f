import path from 'node:path';
import type { Folder } from './folder';
import type { Decoders } from './decoders/decoders';
import { importPhoto, type Imported } from './importer';
import { importOra } from './ora/import';
import type { Db } from './store/db';

/** Takes in a file that somebody sent to the shelf: a photo, or a file of layers, by what it is called. The file itself stays where it is. */
export function takeIn(db: Db, folder: Folder, decoders: Decoders, file: string, fileName: string): Promise<Imported> {
  const { name, ext } = path.parse(fileName);
  return ext.toLowerCase() === '.ora' ? importOra(db, folder, decoders, file, name) : importPhoto(db, folder, decoders, file, fileName);
}
