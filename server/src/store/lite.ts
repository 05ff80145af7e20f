import fs from 'node:fs/promises';
import path from 'node:path';
import { PGlite, types, type Transaction } from '@electric-sql/pglite';
import { forOwnerOnly, lastingFolder, syncTree } from '../files/durable';
import type { OpenDb, Tx } from './db';
import { SYNCED_START, SyncedFiles } from './synced';

/** PostgreSQL within this process, on a folder of its own: one connection, one process. */
export async function lite(folder: string): Promise<OpenDb> {
  const isNew = !(await fs.stat(path.join(folder, 'PG_VERSION')).catch(() => undefined));
  await lastingFolder(folder);
  const db = await PGlite.create({
    fs: new SyncedFiles(folder),
    startParams: SYNCED_START,
    parsers: { [types.INT8]: Number, [types.TIMESTAMPTZ]: (text: string) => new Date(text).toISOString() },
  });
  // What lays a new database out does not sync, and leaves its files to everyone.
  await forOwnerOnly(folder);
  if (isNew) await syncTree(folder);
  const asking = (on: PGlite | Transaction): Tx => ({
    query: async <Row>(sql: string, params?: unknown[]) => {
      const { rows, affectedRows = 0 } = await on.query<Row>(sql, params);
      return { rows, affectedRows };
    },
  });
  return {
    ...asking(db),
    transaction: (act) => db.transaction((tx) => act(asking(tx))),
    shared: false,
    run: async (sql) => {
      const last = (await db.exec(sql)).at(-1);
      return { rows: last?.rows ?? [], affectedRows: last?.affectedRows ?? 0 };
    },
    // There is nobody else.
    notify: () => Promise.resolve(),
    listen: () => Promise.resolve(),
    // The folder is this process's own.
    alone: (act) => act(),
    close: () => db.close(),
  };
}
