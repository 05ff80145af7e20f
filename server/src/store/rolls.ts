import { randomUUID } from 'node:crypto';
import { BexlenError, fitName } from '@bexlen/core';
import { LONGEST_NAME, type Roll } from '@bexlen/api';
import type { Db, Tx } from './db';

export async function allRolls(db: Tx): Promise<Roll[]> {
  const { rows } = await db.query<Roll>(
    `SELECT r.id, r.name, count(p.id)::int AS photos FROM rolls r LEFT JOIN photos p ON p.roll_id = r.id AND NOT p.binned GROUP BY r.id ORDER BY r.made_at DESC, r.id`,
  );
  return rows;
}

/** A new roll; where its name is taken, it gets a number. */
export async function newRoll(db: Db, wanted: string): Promise<string> {
  const name = fitName(wanted, LONGEST_NAME - 5, 'Roll');
  for (let n = 1; ; n++) {
    const id = randomUUID();
    const { affectedRows } = await db.query('INSERT INTO rolls (id, name) VALUES ($1, $2) ON CONFLICT (name) DO NOTHING', [
      id,
      n === 1 ? name : `${name} ${n}`,
    ]);
    if (affectedRows === 1) return id;
  }
}

export async function renameRoll(db: Tx, id: string, name: string): Promise<void> {
  const { rows } = await db.query('SELECT 1 FROM rolls WHERE name = $1 AND id <> $2', [name, id]);
  if (rows.length > 0) throw new BexlenError('conflict', `There is a roll called “${name}” already.`, 'Give this one another name.');
  await db.query('UPDATE rolls SET name = $2 WHERE id = $1', [id, name]);
}

/** Takes a roll away; the photos in it stay on the shelf. */
export async function dropRoll(db: Tx, id: string): Promise<void> {
  await db.query('DELETE FROM rolls WHERE id = $1', [id]);
}

/** Puts photos into a roll, or out of any. */
export async function moveToRoll(db: Tx, photos: readonly string[], rollId: string | null): Promise<void> {
  if (rollId !== null && (await db.query('SELECT 1 FROM rolls WHERE id = $1', [rollId])).rows.length === 0)
    throw new BexlenError('not-found', 'This roll is no longer there.', 'Choose another one.');
  await db.query('UPDATE photos SET roll_id = $2 WHERE id = ANY($1)', [photos, rollId]);
}
