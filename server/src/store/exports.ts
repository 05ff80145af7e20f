import { randomUUID } from 'node:crypto';
import { BexlenError, fitted, pictureSize, readStack, type Stack } from '@bexlen/core';
import type { ExportJob, ExportWish, Fault } from '../api';
import type { Db, Tx } from './db';
import { photoRow } from './photos';
import { stackOf } from './versions';

interface Row {
  readonly id: string;
  readonly photo_id: string;
  readonly version_id: string;
  readonly stack: Stack;
  readonly file_name: string;
  readonly format: 'jpeg' | 'png';
  readonly quality: number | null;
  readonly depth: 8 | 16;
  readonly state: ExportJob['state'];
  readonly width: number;
  readonly height: number;
  readonly bytes: number | null;
  readonly took_ms: number | null;
  readonly fault: Fault | null;
  readonly created_at: string;
}

const present = ({ photo_id, version_id, stack: _stack, file_name, took_ms, created_at, ...row }: Row): ExportJob => ({
  ...row,
  photoId: photo_id,
  versionId: version_id,
  fileName: file_name,
  tookMs: took_ms,
  createdAt: created_at,
  progress: row.state === 'done' ? 1 : 0,
});

export async function allExports(db: Tx): Promise<ExportJob[]> {
  return (await db.query<Row>('SELECT * FROM exports ORDER BY created_at DESC')).rows.map(present);
}

async function row(db: Tx, id: string): Promise<Row> {
  const [found] = (await db.query<Row>('SELECT * FROM exports WHERE id = $1', [id])).rows;
  if (!found) throw new BexlenError('not-found', `There is no export ${id}.`, 'It may have been removed; look at the list again.');
  return found;
}

export const exportById = async (db: Tx, id: string): Promise<ExportJob> => present(await row(db, id));

/** What is needed to make a file: the stack as it was when the export was asked for. */
export async function exportWork(db: Tx, id: string): Promise<{ job: ExportJob; stack: Stack }> {
  const found = await row(db, id);
  return { job: present(found), stack: readStack(found.stack) };
}

export async function addExport(db: Db, wish: ExportWish): Promise<string> {
  const { photoId, name, stack } = await stackOf(db, wish.versionId);
  const photo = await photoRow(db, photoId);
  const full = pictureSize(stack.geometry, photo);
  const { width, height } = wish.edge === undefined ? full : fitted(full, wish.edge);
  const id = randomUUID();
  const fileName = `${plain(photo.name)} - ${plain(name)}.${wish.format === 'jpeg' ? 'jpg' : 'png'}`;
  await db.query(
    `INSERT INTO exports (id, photo_id, version_id, stack, file_name, format, quality, depth, width, height)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
    [
      id,
      photoId,
      wish.versionId,
      stack,
      fileName,
      wish.format,
      wish.format === 'jpeg' ? wish.quality : null,
      wish.format === 'png' ? wish.depth : 8,
      width,
      height,
    ],
  );
  return id;
}

/** Exports that wait, the oldest first. */
export async function waitingExports(db: Tx): Promise<string[]> {
  return (await db.query<{ id: string }>("SELECT id FROM exports WHERE state = 'waiting' ORDER BY created_at")).rows.map(({ id }) => id);
}

/** What came of an export. */
export interface Outcome {
  readonly bytes?: number;
  readonly tookMs?: number;
  readonly fault?: Fault;
}

/** What was being made when the server stopped starts again. */
export async function requeueUnfinished(db: Tx): Promise<void> {
  await db.query("UPDATE exports SET state = 'waiting' WHERE state = 'working'");
}

export async function setState(db: Tx, id: string, state: ExportJob['state'], result: Outcome = {}): Promise<void> {
  await db.query('UPDATE exports SET state = $2, bytes = $3, took_ms = $4, fault = $5 WHERE id = $1', [
    id,
    state,
    result.bytes ?? null,
    result.tookMs ?? null,
    result.fault ?? null,
  ]);
}

export async function removeExport(db: Tx, id: string): Promise<void> {
  await row(db, id);
  await db.query('DELETE FROM exports WHERE id = $1', [id]);
}

/** A name that every file system takes. */
const plain = (name: string): string => name.replace(/[^\p{L}\p{N} ._-]+/gu, ' ').trim() || 'photo';
