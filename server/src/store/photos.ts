import { randomUUID } from 'node:crypto';
import {
  BexlenError,
  echoed,
  emptyStack,
  kindOf,
  namedIn,
  pictureSize,
  rows as layerRows,
  type Gamut,
  type Geometry,
  type Layer,
  type Stack,
} from '@bexlen/core';
import type { Photo, PhotoChange } from '@bexlen/api';
import type { Folder } from '../folder';
import { isWhole } from './originals';
import type { Db, Tx } from './db';

export interface PhotoRow {
  readonly id: string;
  readonly hash: string;
  readonly name: string;
  readonly caption: string;
  readonly format: string;
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
  readonly alpha: boolean;
  readonly gamut: Gamut;
  readonly headroom: number | null;
  readonly bytes: number;
  readonly picked: boolean;
  readonly binned: boolean;
  readonly imported_at: string;
  readonly taken_at: string | null;
  readonly roll_id: string | null;
}

export interface VersionRow {
  readonly id: string;
  readonly photo_id: string;
  readonly name: string;
  readonly revision: number;
  readonly changed_at: string;
  readonly stack: Stack;
}

export type Facts = { readonly headroom?: number } & Pick<
  PhotoRow,
  'hash' | 'name' | 'format' | 'width' | 'height' | 'depth' | 'alpha' | 'gamut' | 'bytes'
> & {
    readonly takenAt?: string;
    readonly rollId?: string;
  };

const noPhoto = (id: string): BexlenError =>
  new BexlenError('not-found', `There is no photo ${echoed(id)}.`, 'Go back to the shelf; it may have been removed.');

/** Hashes of all originals that photos name. */
export async function allHashes(db: Tx): Promise<Set<string>> {
  return new Set((await db.query<{ hash: string }>('SELECT hash FROM photos')).rows.map(({ hash }) => hash));
}

export async function photoById(db: Tx, folder: Folder, id: string): Promise<Photo> {
  const row = await photoRow(db, id);
  return present(row, (await versionsByPhoto(db, [id])).get(id) ?? [], !(await isWhole(folder, row)));
}

export async function photoRow(db: Tx, id: string): Promise<PhotoRow> {
  const [row] = (await db.query<PhotoRow>('SELECT * FROM photos WHERE id = $1', [id])).rows;
  if (!row) throw noPhoto(id);
  return row;
}

export async function photoByHash(db: Tx, hash: string): Promise<PhotoRow | undefined> {
  return (await db.query<PhotoRow>('SELECT * FROM photos WHERE hash = $1', [hash])).rows[0];
}

/** A new photo with its first version, an empty stack. */
export async function addPhoto(db: Db, facts: Facts): Promise<string> {
  const id = randomUUID();
  await db.transaction(async (tx) => {
    await tx.query(
      'INSERT INTO photos (id, hash, name, format, width, height, depth, alpha, bytes, taken_at, roll_id, gamut, headroom) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)',
      [
        id,
        facts.hash,
        facts.name,
        facts.format,
        facts.width,
        facts.height,
        facts.depth,
        facts.alpha,
        facts.bytes,
        facts.takenAt ? `${facts.takenAt}Z` : null,
        facts.rollId ?? null,
        facts.gamut,
        facts.headroom ?? null,
      ],
    );
    const version = randomUUID();
    await tx.query('INSERT INTO versions (id, photo_id, name) VALUES ($1, $2, $3)', [version, id, 'Version 1']);
    await tx.query('INSERT INTO steps (version_id, place, words, stack) VALUES ($1, 0, $2, $3)', [version, 'As it came', emptyStack]);
  });
  return id;
}

export async function changePhoto(db: Tx, id: string, change: PhotoChange): Promise<void> {
  const { name = null, caption = null, picked = null, binned = null } = change;
  const result = await db.query(
    `UPDATE photos SET name = coalesce($2, name), caption = coalesce($3, caption),
       picked = coalesce($4, picked), binned = coalesce($5, binned) WHERE id = $1`,
    [id, name, caption, picked, binned],
  );
  if (result.affectedRows === 0) throw noPhoto(id);
}

/** Versions of other photos in which a photo is laid over, in words: `Rehearsal window (Version 1)`. */
export async function versionsWith(db: Tx, id: string): Promise<string[]> {
  const { rows } = await db.query<{ photo: string; version: string; stack: Stack }>(
    `SELECT p.name AS photo, v.name AS version, s.stack FROM versions v
       JOIN steps s ON s.version_id = v.id AND s.place = v.cursor
       JOIN photos p ON p.id = v.photo_id
      WHERE v.photo_id <> $1 AND s.stack::text LIKE '%' || $1 || '%' ORDER BY p.name, v.name`,
    [id],
  );
  return rows.filter(({ stack }) => namedIn(stack.layers, 'photo').includes(id)).map(({ photo, version }) => `${photo} (${version})`);
}

/**
 * Removes a photo from the bin for good, with its versions and exports. Throws `conflict` where versions of other photos would lose it, unless they may; and where it
 * is not in the bin. Returns the hash of its original, which nothing names any more.
 */
export async function removePhoto(db: Db, id: string, anyway: boolean): Promise<string> {
  return db.transaction(async (tx) => {
    const row = await photoRow(tx, id);
    if (!row.binned) throw new BexlenError('conflict', `“${echoed(row.name)}” is not in the bin.`, 'Put it there first.');
    const users = anyway ? [] : await versionsWith(tx, id);
    if (users.length > 0)
      throw new BexlenError(
        'conflict',
        `“${echoed(row.name)}” is laid over ${users.length === 1 ? 'another photo' : `${users.length} others`}: ${echoed(users.join(', '), 300)}.`,
        'Without it they make no file. Choose other photos there, or delete it all the same.',
      );
    await tx.query('DELETE FROM photos WHERE id = $1', [id]);
    return row.hash;
  });
}

/** Removes a photo at once, with all that names it. Returns the hash of its original. */
export async function dropPhoto(db: Tx, id: string): Promise<string> {
  const { hash } = await photoRow(db, id);
  await db.query('DELETE FROM photos WHERE id = $1', [id]);
  return hash;
}

/** Versions of photos, those that were changed last first. */
export async function versionsByPhoto(db: Tx, photos: readonly string[]): Promise<ReadonlyMap<string, VersionRow[]>> {
  const { rows } = await db.query<VersionRow>(
    `SELECT v.id, v.photo_id, v.name, v.revision, v.changed_at, s.stack FROM versions v
       JOIN steps s ON s.version_id = v.id AND s.place = v.cursor
      WHERE v.photo_id = ANY($1) ORDER BY v.changed_at DESC`,
    [photos],
  );
  const groups = new Map<string, VersionRow[]>();
  for (const row of rows) groups.set(row.photo_id, [...(groups.get(row.photo_id) ?? []), row]);
  return groups;
}

/** Versions from before there was geometry have none. */
const geometryOf = ({ geometry }: Partial<Pick<Stack, 'geometry'>>): Geometry => geometry ?? emptyStack.geometry;

const familyOf = (layer: Layer): string => (layer.kind === 'group' ? 'group' : kindOf(layer.kind).family);

/** A photo as pages know it. Throws where one of its versions cannot be read. */
export function present({ imported_at, taken_at, roll_id, hash: _hash, ...row }: PhotoRow, versions: readonly VersionRow[], missing: boolean): Photo {
  const own = versions.map(({ id, name, revision, stack, changed_at }) => {
    const families = layerRows(stack.layers)
      .map(({ layer }) => familyOf(layer))
      .filter((family) => family !== 'group');
    return { id, name, revision, layers: families.length, families, ...pictureSize(geometryOf(stack), row), changedAt: changed_at };
  });
  return { ...row, importedAt: imported_at, takenAt: taken_at, rollId: roll_id, versions: own, missing };
}
