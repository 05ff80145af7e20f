import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { checkName } from '@bexlen/core';
import { newPreset, preset, type Preset } from '@bexlen/api';
import type { Db } from './db';

/** Wishes for files that somebody keeps, by name. One that a newer Bexlen wrote and that cannot be read is not told of. */
export async function allPresets(db: Db): Promise<Preset[]> {
  const { rows } = await db.query<unknown>('SELECT id, name, wish FROM export_presets ORDER BY name');
  return rows.flatMap((row) => preset.safeParse(row).data ?? []);
}

/** Keeps a wish under a name; what was kept under it before is replaced. */
export async function keepPreset(db: Db, { name, wish }: z.infer<typeof newPreset>): Promise<Preset> {
  checkName(wish.fileName);
  const { rows } = await db.query<unknown>(
    'INSERT INTO export_presets (id, name, wish) VALUES ($1, $2, $3) ON CONFLICT (name) DO UPDATE SET wish = excluded.wish RETURNING id, name, wish',
    [randomUUID(), name, wish],
  );
  return preset.parse(rows[0]);
}

export async function removePreset(db: Db, id: string): Promise<void> {
  await db.query('DELETE FROM export_presets WHERE id = $1', [id]);
}
