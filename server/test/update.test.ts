import fs from 'node:fs/promises';
import path from 'node:path';
import type { ExportJob, Photo, Version } from '@bexlen/api';
import { openDb, type OpenDb } from '../src/store/db';
import { asking, order, treated } from './asking';
import { Cluster } from './postgres';
import { newFolder, startServer } from './server';

/**
 * What the version before the tables' step 0009 asked of its tables, in its order, as the log of PostgreSQL has it: from an empty shelf to a photo, a change, a roll and a finished file. Beside it
 * lie that photo and that file.
 */
const kept = path.join(import.meta.dirname, 'before-0009');
const migrations = path.join(import.meta.dirname, '../src/store/migrations');

interface Statement {
  readonly sql: string;
  readonly params: readonly (string | null)[];
}

let cluster: Cluster;
let folder: string;
let statements: readonly Statement[];
beforeAll(async () => {
  [cluster, folder] = [await Cluster.begin(), await newFolder()];
  statements = JSON.parse(await fs.readFile(path.join(kept, 'statements.json'), 'utf8')) as Statement[];
});
afterAll(async () => {
  await cluster.end();
  await fs.rm(folder, { recursive: true });
});

/** Asks all of it. Returns how many rows each statement wrote or found; throws where one is refused. */
async function replayed(db: OpenDb, all: readonly Statement[]): Promise<number[]> {
  const counts: number[] = [];
  for (const { sql, params } of all) {
    const { rows, affectedRows } = await db.query(sql, [...params]);
    counts.push(Math.max(rows.length, affectedRows));
  }
  return counts;
}

/** The same for another photo, in the roll that is there: every other name and hash is another. */
const another = (all: readonly Statement[]): Statement[] =>
  all.map(({ sql, params }) => ({
    sql,
    params: params.map(
      (param) => param && param.replace(/\b(?!7abdfe81)[0-9a-f]{8}(?=-)/g, (id) => [...id].reverse().join('')).replace(/7ffb833f/g, '0ffb833f'),
    ),
  }));

it('what the version before has kept is there, and it goes on beside this one', async () => {
  const store = path.join(folder, 'store');
  const where = await cluster.database('studio');
  const earlier = path.join(folder, 'migrations');
  await fs.mkdir(earlier);
  for (const file of (await fs.readdir(migrations)).filter((name) => name < '0009'))
    await fs.copyFile(path.join(migrations, file), path.join(earlier, file));
  const db = await openDb(where, earlier);
  await replayed(db, statements);
  await db.close();
  const param = (sql: RegExp, at: number): string => statements.find((each) => sql.test(each.sql))?.params[at] as string;
  const objects = {
    'original.jpg': `originals/${param(/^INSERT INTO photos/, 1).slice(0, 2)}/${param(/^INSERT INTO photos/, 1)}`,
    'made.jpg': param(/file = \$8/, 7),
  };
  for (const [file, key] of Object.entries(objects)) {
    await fs.mkdir(path.dirname(path.join(store, key)), { recursive: true });
    await fs.copyFile(path.join(kept, file), path.join(store, key));
  }

  const env = { BEXLEN_DATABASE: where, BEXLEN_STORE: store };
  const web = await startServer(path.join(folder, 'web'), 64e6, ['--role', 'web'], env);
  const darkroom = await startServer(path.join(folder, 'darkroom'), 64e6, ['--role', 'darkroom'], env);
  try {
    const { ask, finished } = asking(() => web.address);
    const photos = async (): Promise<Photo[]> => (await ask<{ photos: Photo[] }>('GET', '/photos')).body.photos;
    const [photo] = await photos();
    expect(photo).toMatchObject({ name: 'older', missing: false });
    const version = (await ask<Version>('GET', `/versions/${photo?.versions[0]?.id}`)).body;
    expect(version.steps[version.cursor]).toMatchObject({
      words: 'Treated',
      stack: { layers: treated.layers.map(({ id, name }) => ({ id, name })) },
    });
    const [made] = (await ask<{ exports: ExportJob[] }>('GET', '/exports')).body.exports;
    const file = await fetch(`${web.address}/api/exports/${made?.id}/file`);
    expect(Buffer.from(await file.arrayBuffer())).toEqual(await fs.readFile(path.join(kept, 'made.jpg')));
    await finished((await order(ask, { versionId: version.id, format: 'jpeg' })).body);

    const beside = await openDb(where, migrations);
    expect(await replayed(beside, another(statements))).toHaveLength(statements.length);
    await beside.close();
    expect((await photos()).map(({ name }) => name)).toEqual(['older', 'older']);
  } finally {
    await darkroom.close();
    await web.close();
  }
});
