import fs from 'node:fs/promises';
import path from 'node:path';
import { PGlite, types } from '@electric-sql/pglite';
import { forOwnerOnly, lastingFolder, syncTree } from '../files/durable';
import { SYNCED_START, SyncedFiles } from './synced';

/** What the modules of the tables need: parameters only, never text put together. */
export type Db = Pick<PGlite, 'query' | 'transaction'>;
export type Tx = Pick<PGlite, 'query'>;

/** Opens the database in a folder and brings it up to date. What a transaction has answered is on the disk from then on. */
export async function openDb(folder: string, migrations: string): Promise<PGlite> {
  const isNew = !(await fs.stat(path.join(folder, 'PG_VERSION')).catch(() => undefined));
  await lastingFolder(folder);
  const db = await PGlite.create({
    fs: new SyncedFiles(folder),
    startParams: SYNCED_START,
    parsers: { [types.INT8]: Number, [types.TIMESTAMPTZ]: (text: string) => new Date(text).toISOString() },
  });
  await migrate(db, migrations);
  // What lays a new database out does not sync, and leaves its files to everyone.
  await forOwnerOnly(folder);
  if (isNew) await syncTree(folder);
  return db;
}

/** Runs the numbered .sql files that have not been run yet, each in a transaction of its own. */
async function migrate(db: PGlite, folder: string): Promise<void> {
  await db.exec('CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY, run_at timestamptz NOT NULL DEFAULT now())');
  const { rows } = await db.query<{ name: string }>('SELECT name FROM migrations');
  const done = new Set(rows.map(({ name }) => name));
  const files = (await fs.readdir(folder)).filter((file) => file.endsWith('.sql')).sort();
  for (const file of files.filter((name) => !done.has(name))) {
    const sql = await fs.readFile(path.join(folder, file), 'utf8');
    await db.transaction(async (tx) => {
      await tx.exec(sql);
      await tx.query('INSERT INTO migrations (name) VALUES ($1)', [file]);
    });
  }
}
