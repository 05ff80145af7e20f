import { randomUUID } from 'node:crypto';
import { BexlenError, echoed, checkName, fileName, plainName, pictureSize, readStack, type Named, type Size, type Stack } from '@bexlen/core';
import { fileWish, formatOf, type ExportJob, type Fault, type FileWish, type SheetWish } from '@bexlen/api';
import { json, type Db, type Tx } from './db';
import { sizeOfFile } from '@bexlen/render/encode/size';
import { photoRow, type PhotoRow } from './photos';
import { stackOf } from './versions';

interface Row {
  readonly id: string;
  readonly photo_id: string;
  readonly version_id: string | null;
  readonly stack: Stack;
  readonly file_name: string;
  readonly format: ExportJob['format'];
  readonly quality: number | null;
  readonly depth: 8 | 16;
  readonly state: ExportJob['state'];
  readonly width: number;
  readonly height: number;
  readonly bytes: number | null;
  readonly took_ms: number | null;
  readonly fault: Fault | null;
  readonly notes: readonly string[];
  readonly interrupted: number;
  readonly gamut: ExportJob['gamut'];
  readonly batch: string | null;
  readonly created_at: string;
  /** Of files from before there was more to choose there is none. */
  readonly wish: unknown;
}

/** Each with the primaries of what is in it: those that were asked for, or its photo's. */
const ROWS = `SELECT e.*, COALESCE(NULLIF(e.wish->>'gamut', 'photo'), p.gamut, 'srgb') AS gamut FROM exports e LEFT JOIN photos p ON p.id = e.photo_id`;

const present = ({
  photo_id,
  version_id,
  stack: _stack,
  wish: _wish,
  interrupted: _interrupted,
  notes,
  file_name,
  took_ms,
  created_at,
  ...row
}: Row): ExportJob => ({
  ...row,
  notes: [...notes],
  photoId: photo_id,
  versionId: version_id,
  fileName: file_name,
  tookMs: took_ms,
  createdAt: created_at,
  progress: row.state === 'done' ? 1 : 0,
});

export async function allExports(db: Tx): Promise<ExportJob[]> {
  return (await db.query<Row>(`${ROWS} ORDER BY e.created_at DESC`)).rows.map(present);
}

async function row(db: Tx, id: string): Promise<Row> {
  const [found] = (await db.query<Row>(`${ROWS} WHERE e.id = $1`, [id])).rows;
  if (!found) throw new BexlenError('not-found', `There is no export ${echoed(id)}.`, 'It may have been removed; look at the list again.');
  return found;
}

export const exportById = async (db: Tx, id: string): Promise<ExportJob> => present(await row(db, id));

/** What is needed to make a file, as it was when it was asked for. */
export type ExportWork = { readonly job: ExportJob } & (
  | { readonly make: 'picture'; readonly stack: Stack; readonly wish: FileWish }
  | { readonly make: 'layers'; readonly stack: Stack }
  | { readonly make: 'sheet'; readonly sheet: SheetWish }
);

export async function exportWork(db: Tx, id: string): Promise<ExportWork> {
  const found = await row(db, id);
  const job = present(found);
  if (found.format === 'pdf') return { job, make: 'sheet', sheet: found.wish as SheetWish };
  const stack = readStack(found.stack);
  if (found.format === 'ora') return { job, make: 'layers', stack };
  const older = { format: found.format, metadata: 'strip', ...(found.format === 'jpeg' ? { quality: found.quality ?? 92 } : { depth: found.depth }) };
  return { job, make: 'picture', stack, wish: fileWish.parse(found.wish ?? older) };
}

/** Enters files of versions as they are now, in one go; equal names get a number. Returns their ids. */
export async function addExports(db: Db, versionIds: readonly string[], wish: FileWish): Promise<string[]> {
  checkName(wish.fileName);
  return db.transaction(async (tx) => {
    const made: string[] = [];
    const batch = versionIds.length > 1 ? randomUUID() : null;
    for (const [i, versionId] of versionIds.entries()) {
      const { photoId, name, stack } = await stackOf(tx, versionId);
      const photo = await photoRow(tx, photoId);
      const size = sizeOfFile(pictureSize(stack.geometry, photo), wish);
      const file = `${fileName(wish.fileName, namedOf(photo, name, size, i + 1))}.${formatOf(wish.format).ending}`;
      made.push(await enter(tx, { photoId, versionId, stack, file, format: wish.format, size, wish, batch }));
    }
    return made;
  });
}

/** Enters the layers of a version as an OpenRaster file. */
export async function addLayersFile(db: Db, versionId: string): Promise<string> {
  const { photoId, name, stack } = await stackOf(db, versionId);
  const photo = await photoRow(db, photoId);
  const size = pictureSize(stack.geometry, photo);
  const file = `${fileName('{photo} - {version}', namedOf(photo, name, size, 1))}.ora`;
  return enter(db, { photoId, versionId, stack, file, format: 'ora', size, wish: {} });
}

/** Enters a contact sheet of checked stacks. */
export async function addSheet(db: Db, sheet: SheetWish): Promise<string> {
  for (const { photoId } of sheet.cells) await photoRow(db, photoId);
  const [first] = sheet.cells as [SheetWish['cells'][number]];
  const file = `${plainName(sheet.title)}.pdf`;
  return enter(db, { photoId: first.photoId, versionId: null, stack: first.stack, file, format: 'pdf', size: { width: 0, height: 0 }, wish: sheet });
}

const namedOf = (photo: PhotoRow, version: string, size: Size, number: number): Named => ({
  photo: photo.name,
  version,
  takenAt: photo.taken_at,
  today: new Date(),
  size,
  number,
});

interface Entry {
  readonly photoId: string;
  readonly versionId: string | null;
  readonly stack: Stack;
  readonly file: string;
  readonly format: ExportJob['format'];
  readonly size: { readonly width: number; readonly height: number };
  readonly wish: object;
  readonly batch?: string | null;
}

async function enter(tx: Tx, { photoId, versionId, stack, file, format, size, wish, batch = null }: Entry): Promise<string> {
  const id = randomUUID();
  const { quality = null, depth = null } = wish as { quality?: number | null; depth?: number | null };
  const known = format === 'pdf' || format === 'ora' ? undefined : formatOf(format);
  await tx.query(
    `INSERT INTO exports (id, photo_id, version_id, stack, file_name, format, quality, depth, width, height, wish, batch)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)`,
    [
      id,
      photoId,
      versionId,
      stack,
      file,
      format,
      known?.quality === undefined ? null : (quality ?? known.quality),
      depth ?? known?.depth ?? 8,
      size.width,
      size.height,
      wish,
      batch,
    ],
  );
  return id;
}

/** Exports that wait, the oldest first. */
export async function waitingExports(db: Tx): Promise<string[]> {
  return (await db.query<{ id: string }>("SELECT id FROM exports WHERE state = 'waiting' ORDER BY created_at, id")).rows.map(({ id }) => id);
}

/** What came of an export. */
export interface Outcome {
  readonly bytes?: number;
  readonly tookMs?: number;
  readonly fault?: Fault;
  readonly notes?: readonly string[];
}

/** How often the server may end while a file is made, before that is taken for the file's fault. */
const MOST_INTERRUPTED = 2;

/** What was being made when the server ended starts again; what ended it twice is set aside as failed. */
export async function requeueUnfinished(db: Tx): Promise<void> {
  const fault: Fault = {
    code: 'internal',
    message: 'The server ended twice while this file was being made.',
    hint: 'Look at its layers and its photo, then start it again.',
  };
  await db.query(
    `UPDATE exports SET interrupted = interrupted + 1,
       state = CASE WHEN interrupted + 1 >= $1 THEN 'failed' ELSE 'waiting' END,
       fault = CASE WHEN interrupted + 1 >= $1 THEN $2::jsonb ELSE NULL END
     WHERE state = 'working'`,
    [MOST_INTERRUPTED, fault],
  );
}

/** How many exports there are of each state; those without any are nought. */
export async function countsOf(db: Tx): Promise<Record<ExportJob['state'], number>> {
  const { rows } = await db.query<{ state: ExportJob['state']; n: number }>('SELECT state, count(*)::int AS n FROM exports GROUP BY state');
  const none = { waiting: 0, working: 0, done: 0, failed: 0, cancelled: 0 };
  return { ...none, ...Object.fromEntries(rows.map(({ state, n }) => [state, n])) };
}

export async function setState(db: Tx, id: string, state: ExportJob['state'], result: Outcome = {}): Promise<void> {
  await db.query(
    `UPDATE exports SET state = $2, bytes = $3, took_ms = $4, fault = $5, notes = $6,
       interrupted = CASE WHEN $2 IN ('done', 'failed', 'cancelled') THEN 0 ELSE interrupted END WHERE id = $1`,
    [id, state, result.bytes ?? null, result.tookMs ?? null, result.fault ?? null, json(result.notes ?? [])],
  );
}

export async function removeExport(db: Tx, id: string): Promise<void> {
  await row(db, id);
  await db.query('DELETE FROM exports WHERE id = $1', [id]);
}
