import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError } from '@bexlen/core';
import { hashOf } from '../files/hash';
import type { Folder } from '../folder';
import type { Db, OpenDb, Tx } from '../store/db';
import { endingOf } from '../store/exports';
import { originalKey } from '../store/originals';
import type { ExportJob } from '@bexlen/api';

/** A house: its tables and its objects. */
export interface Place {
  readonly db: OpenDb;
  readonly folder: Folder;
}

/** What was carried over. */
export interface Carried {
  photos: number;
  /** Photos that the target had already, as they are. */
  known: number;
  versions: number;
  files: number;
  bytes: number;
  /** What could not be carried, each with why. */
  readonly left: string[];
}

/** Tables of which whole rows are carried, those that others name first. */
const BEFORE = ['rolls', 'strokes', 'looks', 'favourite_looks', 'export_presets', 'devices'];

/**
 * Carries a house into another: each photo with its original, its versions and its finished files, in one piece each. What the target has already is left as it is, so that it can be done again
 * after a break, and what was changed at the target since stays changed. Nothing is changed at the source.
 * @param say told of each photo.
 * @throws {BexlenError} `no-store` or `no-database` where one of them does not answer.
 */
export async function move(from: Place, to: Place, say: (line: string) => void): Promise<Carried> {
  await sameTables(from.db, to.db);
  const carried: Carried = { photos: 0, known: 0, versions: 0, files: 0, bytes: 0, left: [] };
  for (const table of BEFORE) for (const row of await rows(from.db, table)) await enter(to.db, table, row);
  await carryCubes(from, to, carried);
  const photos = await rows<PhotoRow>(from.db, 'photos', 'ORDER BY t.imported_at');
  for (const [i, photo] of photos.entries()) {
    await carryPhoto(from, to, photo, carried);
    say(`${i + 1} of ${photos.length}  ${photo.name}`);
  }
  return carried;
}

interface PhotoRow {
  readonly id: string;
  readonly hash: string;
  readonly name: string;
  readonly bytes: number;
}
interface FileRow {
  readonly id: string;
  readonly state: ExportJob['state'];
  readonly file_name: string;
  readonly file: string | null;
  readonly format: ExportJob['format'];
}

async function carryPhoto(from: Place, to: Place, photo: PhotoRow, carried: Carried): Promise<void> {
  const [twin] = await rows<PhotoRow>(to.db, 'photos', 'WHERE t.hash = $1 AND t.id <> $2', [photo.hash, photo.id]);
  if (twin) {
    carried.left.push(`${photo.name}: the same file is there already as “${twin.name}”, imported on its own.`);
    return;
  }
  const bytes = await carryObject(from, to, originalKey(photo.hash), photo.hash);
  if (bytes === undefined) carried.left.push(`${photo.name}: its original is missing. Its versions were carried; import the same file again there.`);
  carried.bytes += bytes ?? 0;
  const isNew = await to.db.transaction(async (tx) => {
    const entered = await enter(tx, 'photos', photo);
    for (const version of await rows<{ id: string; revision: number }>(from.db, 'versions', 'WHERE t.photo_id = $1 ORDER BY t.changed_at', [
      photo.id,
    ]))
      if (await carryVersion(from.db, tx, version)) carried.versions++;
    return entered;
  });
  if (isNew) carried.photos++;
  else carried.known++;
  for (const file of await rows<FileRow>(from.db, 'exports', 'WHERE t.photo_id = $1', [photo.id])) await carryFile(from, to, file, carried);
}

/** A version with its steps, unless the target has it as it is here, or changed since. */
async function carryVersion(from: Db, to: Tx, version: { readonly id: string; readonly revision: number }): Promise<boolean> {
  const [there] = await rows<{ revision: number }>(to, 'versions', 'WHERE t.id = $1', [version.id]);
  if (there && there.revision >= version.revision) return false;
  if (there) await to.query('UPDATE versions SET revision = 0 WHERE id = $1', [version.id]);
  if (there) await to.query('DELETE FROM steps WHERE version_id = $1', [version.id]);
  if (!there) await enter(to, 'versions', version);
  else {
    const { name, revision, cursor, changed_at } = version as unknown as Record<string, unknown>;
    await to.query('UPDATE versions SET name = $2, revision = $3, cursor = $4, changed_at = $5 WHERE id = $1', [
      version.id,
      name,
      revision,
      cursor,
      changed_at,
    ]);
  }
  for (const step of await rows(from, 'steps', 'WHERE t.version_id = $1', [version.id])) await enter(to, 'steps', step);
  return true;
}

/** A file of the list, with what was made; one that waits is made by the target. */
async function carryFile(from: Place, to: Place, row: FileRow, carried: Carried): Promise<void> {
  const key = row.file ?? `exports/${row.id}.${endingOf(row.format)}`;
  const bytes = row.state === 'done' ? await carryObject(from, to, key) : undefined;
  if (row.state === 'done' && bytes === undefined) {
    carried.left.push(`${row.file_name}: the finished file is missing. Make it again there.`);
    return;
  }
  carried.bytes += bytes ?? 0;
  const state = row.state === 'working' ? 'waiting' : row.state;
  if (await enter(to.db, 'exports', { ...row, state, file: row.state === 'done' ? key : null, job: null, machine: null })) carried.files++;
}

async function carryCubes(from: Place, to: Place, carried: Carried): Promise<void> {
  for await (const { key } of from.folder.objects.list('cubes')) carried.bytes += (await carryObject(from, to, key)) ?? 0;
}

/** Carries an object, unless it is there, as long as it is here. Returns the bytes that were sent; undefined where it is not here. */
async function carryObject(from: Place, to: Place, key: string, hash?: string): Promise<number | undefined> {
  const size = await from.folder.objects.size(key);
  if (size === undefined) return undefined;
  if ((await to.folder.objects.size(key)) === size) return 0;
  const file = await from.folder.objects.file(key);
  if (file === undefined) return undefined;
  const copy = path.join(to.folder.unfinished, `moved-${randomUUID()}`);
  try {
    await fs.copyFile(file, copy);
    if (hash !== undefined && (await hashOf(copy)).hash !== hash) return undefined;
    await to.folder.objects.keep(key, copy, hash);
  } finally {
    await fs.rm(copy, { force: true });
  }
  return size;
}

/** Rows as JSON, whatever columns there are. */
async function rows<T extends object = object>(db: Tx, table: string, where = '', params: unknown[] = []): Promise<T[]> {
  return (await db.query<{ row: T }>(`SELECT to_jsonb(t) AS row FROM ${table} t ${where}`, params)).rows.map(({ row }) => row);
}

/** Enters a row as it was read, unless there is one of that name. Returns whether it was. */
async function enter(db: Tx, table: string, row: object): Promise<boolean> {
  const { affectedRows } = await db.query(
    `INSERT INTO ${table} SELECT * FROM jsonb_populate_record(NULL::${table}, $1::jsonb) ON CONFLICT DO NOTHING`,
    [JSON.stringify(row)],
  );
  return affectedRows > 0;
}

/** Both must be of the same version: the target is brought up to date when it is opened, the source is left as it is. */
async function sameTables(from: Tx, to: Tx): Promise<void> {
  const names = async (db: Tx): Promise<string> =>
    (await db.query<{ name: string }>('SELECT name FROM migrations ORDER BY name')).rows.map(({ name }) => name).join(' ');
  if ((await names(from)) !== (await names(to)))
    throw new BexlenError(
      'bad-version',
      'The two are of different versions of Bexlen.',
      'Start this version once on the old one, stop it, and move then.',
    );
}
