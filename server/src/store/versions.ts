import { randomUUID } from 'node:crypto';
import { BexlenError, echoed, readStack, type Stack } from '@bexlen/core';
import { MAX_STEPS, type NewVersion, type Step, type Version, type Named, type VersionChange } from '@bexlen/api';
import type { Db, Tx } from './db';
import { photoRow } from './photos';
import { checkPaintings, keepStrokes } from './strokes';

interface Row {
  readonly id: string;
  readonly photo_id: string;
  readonly name: string;
  readonly revision: number;
  readonly cursor: number;
}

async function versionRow(db: Tx, id: string): Promise<Row> {
  const [row] = (await db.query<Row>('SELECT id, photo_id, name, revision, cursor FROM versions WHERE id = $1', [id])).rows;
  if (!row) throw new BexlenError('not-found', `There is no version ${echoed(id)}.`, 'Go back to the shelf; it may have been removed.');
  return row;
}

export async function versionById(db: Db, id: string): Promise<Version> {
  return db.transaction(async (tx) => {
    const { photo_id, ...row } = await versionRow(tx, id);
    const { rows } = await tx.query<Step>('SELECT words, stack FROM steps WHERE version_id = $1 ORDER BY place', [id]);
    // Read anew, so that what was kept before a kind gained a parameter has its default.
    return { ...row, photoId: photo_id, steps: rows.map(({ words, stack }) => ({ words, stack: readStack(stack) })) };
  });
}

/** The stack in force, with the photo it belongs to. */
export async function stackOf(db: Tx, id: string): Promise<{ photoId: string; name: string; revision: number; stack: Stack }> {
  const row = await versionRow(db, id);
  const [step] = (await db.query<{ stack: Stack }>('SELECT stack FROM steps WHERE version_id = $1 AND place = $2', [id, row.cursor])).rows;
  if (!step) throw new Error(`version ${id} has no step ${row.cursor}`);
  return { photoId: row.photo_id, name: row.name, revision: row.revision, stack: readStack(step.stack) };
}

/** A new version; its strokes need not be said if all are kept. */
type Given = Omit<NewVersion, 'strokes'> & Partial<Pick<Named<NewVersion>, 'strokes'>>;

/** A new version of checked steps. Its strokes come first, by and by: they are named by their content, and what nothing names in the end goes after a while. */
export async function addVersion(db: Db, photoId: string, { strokes = [], ...given }: Given): Promise<string> {
  await photoRow(db, photoId);
  await keepStrokes(db, strokes);
  return db.transaction((tx) => addVersionIn(tx, photoId, given));
}

/** A new version of checked steps, as part of more. */
export async function addVersionIn(tx: Tx, photoId: string, { name, steps, cursor, strokes = [] }: Given): Promise<string> {
  checkCursor(cursor, steps.length);
  await photoRow(tx, photoId);
  const id = randomUUID();
  await keepStrokes(tx, strokes);
  await checkPaintings(
    tx,
    steps.map(({ stack }) => stack),
  );
  await tx.query('INSERT INTO versions (id, photo_id, name, cursor) VALUES ($1, $2, $3, $4)', [id, photoId, name, cursor]);
  await putSteps(tx, id, 0, steps);
  return id;
}

/** The version of a photo that was changed last, as it is now. */
export async function latestVersion(tx: Tx, photoId: string): Promise<{ id: string; name: string; stack: Stack }> {
  const { rows } = await tx.query<{ id: string; name: string; stack: Stack }>(
    `SELECT v.id, v.name, s.stack FROM versions v JOIN steps s ON s.version_id = v.id AND s.place = v.cursor
      WHERE v.photo_id = $1 ORDER BY v.changed_at DESC LIMIT 1`,
    [photoId],
  );
  const [row] = rows;
  if (!row) throw new BexlenError('not-found', 'This photo has no version.', 'Import it again.');
  return { ...row, stack: readStack(row.stack) };
}

function checkReplaces({ revision }: { readonly revision: number }, { replaces }: Pick<VersionChange, 'replaces'>): void {
  if (revision !== replaces)
    throw new BexlenError('conflict', 'This version has changed since you last loaded it.', 'Keep your changes as a version of their own.');
}

/** Takes a change of checked steps if it replaces the latest revision; answers with the new one. Throws `conflict` otherwise, and changes nothing. */
export async function changeVersion(db: Db, id: string, change: Named<VersionChange>): Promise<number> {
  checkReplaces(await versionRow(db, id), change);
  await keepStrokes(db, change.strokes);
  return db.transaction(async (tx) => {
    const row = await versionRow(tx, id);
    checkReplaces(row, change);
    const [count] = (await tx.query<{ n: number }>('SELECT count(*)::int AS n FROM steps WHERE version_id = $1', [id])).rows;
    if (change.from > (count?.n ?? 0))
      throw new BexlenError('bad-request', 'The change leaves a gap in the list of steps.', 'Open the version again.');
    const total = change.from + change.steps.length - change.forget;
    checkCursor(change.cursor, total);
    if (total > MAX_STEPS) throw new BexlenError('bad-request', `A version keeps at most ${MAX_STEPS} steps.`, 'Let the oldest ones go.');
    await checkPaintings(
      tx,
      change.steps.map(({ stack }) => stack),
    );
    await tx.query('DELETE FROM steps WHERE version_id = $1 AND place >= $2', [id, change.from]);
    await putSteps(tx, id, change.from, change.steps);
    await forget(tx, id, change.forget);
    await tx.query('UPDATE versions SET revision = revision + 1, cursor = $2, changed_at = clock_timestamp() WHERE id = $1', [id, change.cursor]);
    return row.revision + 1;
  });
}

export async function renameVersion(db: Tx, id: string, name: string): Promise<void> {
  await versionRow(db, id);
  await db.query('UPDATE versions SET name = $2 WHERE id = $1', [id, name]);
}

function checkCursor(cursor: number, count: number): void {
  if (cursor < 0 || cursor >= count) throw new BexlenError('bad-request', 'The step in force is not among the steps.', 'Open the version again.');
}

async function putSteps(tx: Tx, id: string, from: number, steps: readonly Step[]): Promise<void> {
  for (const [i, { words, stack }] of steps.entries())
    await tx.query('INSERT INTO steps (version_id, place, words, stack) VALUES ($1, $2, $3, $4)', [id, from + i, words, stack]);
}

/** Drops the oldest steps and moves the others up; in two moves, since places must stay unique at every row. */
async function forget(tx: Tx, id: string, count: number): Promise<void> {
  if (count === 0) return;
  await tx.query('DELETE FROM steps WHERE version_id = $1 AND place < $2', [id, count]);
  await tx.query('UPDATE steps SET place = -place - 1 WHERE version_id = $1', [id]);
  await tx.query('UPDATE steps SET place = -place - 1 - $2 WHERE version_id = $1', [id, count]);
}
