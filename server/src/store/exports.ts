import { randomUUID } from 'node:crypto';
import { BexlenError, echoed, checkName, fileName, plainName, pictureSize, readStack, type Named, type Size, type Stack } from '@bexlen/core';
import { fileWish, formatOf, type ExportJob, type Fault, type FileWish, type SheetWish } from '@bexlen/api';
import type { Db, Tx } from './db';
import { sizeOfFile } from '@bexlen/render/encode/size';
import type { Queue, Taken } from '../jobs/queue';
import { order, type Entered } from './jobs';
import { photoRow, type PhotoRow } from './photos';
import { stackOf } from './versions';

/** What a page is told of an export. */
interface Row {
  readonly id: string;
  readonly photo_id: string;
  readonly version_id: string | null;
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
  readonly gamut: ExportJob['gamut'];
  readonly batch: string | null;
  readonly created_at: string;
  readonly machine_name: string | null;
}

/** Each with the primaries of what is in it: those that were asked for, or its photo's. Stacks and wishes are long, and not told. */
const COLUMNS = `e.id, e.photo_id, e.version_id, e.file_name, e.format, e.quality, e.depth, e.state, e.width, e.height, e.bytes, e.took_ms, e.fault, e.notes,
  e.batch, e.created_at, COALESCE(NULLIF(e.wish->>'gamut', 'photo'), p.gamut, 'srgb') AS gamut, m.name AS machine_name`;
const BESIDE = 'LEFT JOIN photos p ON p.id = e.photo_id LEFT JOIN machines m ON m.id = e.machine';
const ROWS = `SELECT ${COLUMNS} FROM exports e ${BESIDE}`;

const present = ({ photo_id, version_id, machine_name, notes, file_name, took_ms, created_at, ...row }: Row): ExportJob => ({
  ...row,
  notes: [...notes],
  photoId: photo_id,
  versionId: version_id,
  fileName: file_name,
  tookMs: took_ms,
  createdAt: created_at,
  machine: machine_name,
  progress: row.state === 'done' ? 1 : 0,
});

/** Files of the list: the latest, and those that are being made. */
export const MOST_LISTED = 500;

/** The files of the list, the latest first. */
export async function allExports(db: Tx): Promise<ExportJob[]> {
  const latest = await db.query<Row>(
    `SELECT ${COLUMNS} FROM (SELECT * FROM exports ORDER BY created_at DESC LIMIT $1) e ${BESIDE} ORDER BY e.created_at DESC`,
    [MOST_LISTED],
  );
  const listed = new Set(latest.rows.map(({ id }) => id));
  const making = latest.rows.length < MOST_LISTED ? [] : (await db.query<Row>(`${ROWS} WHERE e.state = 'working'`)).rows;
  return [...latest.rows, ...making.filter(({ id }) => !listed.has(id))].map(present);
}

/** Some files, in this order. @throws {BexlenError} `not-found` where one is not there. */
export async function exportsById(db: Tx, ids: readonly string[]): Promise<ExportJob[]> {
  const { rows } = await db.query<Row>(`${ROWS} WHERE e.id = ANY($1::text[])`, [ids]);
  const found = new Map(rows.map((each) => [each.id, present(each)]));
  return ids.map((id) => found.get(id) ?? noSuch(id));
}

async function row(db: Tx, id: string): Promise<Row> {
  const [found] = (await db.query<Row>(`${ROWS} WHERE e.id = $1`, [id])).rows;
  return found ?? noSuch(id);
}

function noSuch(id: string): never {
  throw new BexlenError('not-found', `There is no export ${echoed(id)}.`, 'It may have been removed; look at the list again.');
}

export const exportById = async (db: Tx, id: string): Promise<ExportJob> => present(await row(db, id));

/** What is needed to make a file, as it was when it was asked for. */
export type ExportWork = { readonly job: ExportJob } & (
  | { readonly make: 'picture'; readonly stack: Stack; readonly wish: FileWish }
  | { readonly make: 'layers'; readonly stack: Stack }
  | { readonly make: 'sheet'; readonly sheet: SheetWish }
);

export async function exportWork(db: Tx, id: string): Promise<ExportWork> {
  const job = await exportById(db, id);
  const { format, quality, depth } = job;
  // Of files from before there was more to choose there is no wish.
  const [given] = (await db.query<{ stack: unknown; wish: unknown }>('SELECT stack, wish FROM exports WHERE id = $1', [id])).rows;
  if (format === 'pdf') return { job, make: 'sheet', sheet: given?.wish as SheetWish };
  const stack = readStack(given?.stack);
  if (format === 'ora') return { job, make: 'layers', stack };
  const older = { format, metadata: 'strip', ...(format === 'jpeg' ? { quality: quality ?? 92 } : { depth }) };
  return { job, make: 'picture', stack, wish: fileWish.parse(given?.wish ?? older) };
}

/** Enters files of versions as they are now, in one go; equal names get a number. Returns their ids. */
export async function addExports(db: Db, queue: Queue, versionIds: readonly string[], wish: FileWish): Promise<string[]> {
  checkName(wish.fileName);
  return db.transaction(async (tx) => {
    const made: Entered[] = [];
    const batch = versionIds.length > 1 ? randomUUID() : null;
    for (const [i, versionId] of versionIds.entries()) {
      const { photoId, name, stack } = await stackOf(tx, versionId);
      const photo = await photoRow(tx, photoId);
      const size = sizeOfFile(pictureSize(stack.geometry, photo), wish);
      const file = `${fileName(wish.fileName, namedOf(photo, name, size, i + 1))}.${formatOf(wish.format).ending}`;
      made.push(await enter(tx, { photoId, versionId, stack, file, format: wish.format, size, wish, batch }));
    }
    await order(tx, queue, made);
    return made.map(({ id }) => id);
  });
}

/** Enters the layers of a version as an OpenRaster file. */
export async function addLayersFile(db: Db, queue: Queue, versionId: string): Promise<string> {
  const { photoId, name, stack } = await stackOf(db, versionId);
  const photo = await photoRow(db, photoId);
  const size = pictureSize(stack.geometry, photo);
  const file = `${fileName('{photo} - {version}', namedOf(photo, name, size, 1))}.ora`;
  return enterOne(db, queue, { photoId, versionId, stack, file, format: 'ora', size, wish: {} });
}

/** Enters a contact sheet of checked stacks. */
export async function addSheet(db: Db, queue: Queue, sheet: SheetWish): Promise<string> {
  for (const { photoId } of sheet.cells) await photoRow(db, photoId);
  const [first] = sheet.cells as [SheetWish['cells'][number]];
  const file = `${plainName(sheet.title)}.pdf`;
  return enterOne(db, queue, {
    photoId: first.photoId,
    versionId: null,
    stack: first.stack,
    file,
    format: 'pdf',
    size: { width: 0, height: 0 },
    wish: sheet,
  });
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

async function enter(tx: Tx, { photoId, versionId, stack, file, format, size, wish, batch = null }: Entry): Promise<Entered> {
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
  return { id, format, batch };
}

const enterOne = (db: Db, queue: Queue, entry: Entry): Promise<string> =>
  db.transaction(async (tx) => {
    const made = await enter(tx, entry);
    await order(tx, queue, [made]);
    return made.id;
  });

/** How many files wait. */
export async function waitingExports(db: Tx): Promise<number> {
  return (await db.query<{ n: number }>("SELECT count(*)::int AS n FROM exports WHERE state = 'waiting'")).rows[0]?.n ?? 0;
}

/** How many exports there are of each state; those without any are nought. */
export async function countsOf(db: Tx): Promise<Record<ExportJob['state'], number>> {
  const { rows } = await db.query<{ state: ExportJob['state']; n: number }>('SELECT state, count(*)::int AS n FROM exports GROUP BY state');
  const none = { waiting: 0, working: 0, done: 0, failed: 0, cancelled: 0 };
  return { ...none, ...Object.fromEntries(rows.map(({ state, n }) => [state, n])) };
}

/** What a file of an export's format ends with. */
export const endingOf = (format: ExportJob['format']): string => (format === 'pdf' || format === 'ora' ? format : formatOf(format).ending);

/** The name among the objects under which a job's file is kept, until the next one takes its place. */
export const keyOf = ({ exportId, job }: Taken, format: ExportJob['format']): string => `exports/${exportId}.${job}.${endingOf(format)}`;

/** The names of the finished files of exports, among the objects. */
export async function filesOf(db: Tx, ids: readonly string[]): Promise<ReadonlyMap<string, string>> {
  const { rows } = await db.query<Pick<Row, 'id' | 'format'> & { file: string | null }>(
    'SELECT id, file, format FROM exports WHERE id = ANY($1::text[])',
    [ids],
  );
  return new Map(rows.map(({ id, file, format }) => [id, file ?? `exports/${id}.${endingOf(format)}`]));
}

export async function removeExport(db: Tx, id: string): Promise<void> {
  await row(db, id);
  await db.query('DELETE FROM exports WHERE id = $1', [id]);
}
