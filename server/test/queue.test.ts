import fs from 'node:fs/promises';
import path from 'node:path';
import type { ExportJob } from '@bexlen/api';
import { takeFolder, type Folder } from '../src/folder';
import { Checks } from '../src/http/checks';
import { Decoders } from '../src/decoders/decoders';
import { importPhoto } from '../src/importer';
import { Exporter } from '../src/jobs/exporter';
import { Stores } from '../src/jobs/supplies';
import { Workshop } from '@bexlen/render/pool/workshop';
import { newLog } from '../src/log';
import { openDb, type Db, type OpenDb } from '../src/store/db';
import { fileWish } from '@bexlen/api';
import { addExports, allExports } from '../src/store/exports';
import { allPhotos, photoById } from '../src/store/photos';
import { databaseOf, jpeg, newFolder } from './server';

const root = path.join(__dirname, '../..');
const built = (file: string): string => path.join(root, 'build', file);

let folder: Folder;
let db: OpenDb;
let versionId: string;
const decoders = new Decoders(built('decoder.mjs'));
const checks = new Checks(built('checks.mjs'));
beforeAll(async () => {
  const at = await newFolder();
  folder = await takeFolder(path.join(at, 'data'));
  db = await openDb(await databaseOf(folder.root), path.join(root, 'server/src/store/migrations'));
  const file = path.join(at, 'photo.jpg');
  await fs.writeFile(file, await jpeg(300, 200));
  const { id } = await importPhoto(db, folder, decoders, file, 'photo.jpg');
  versionId = (await photoById(db, folder, id)).versions[0]?.id as string;
});
afterAll(async () => {
  await decoders.close();
  await checks.close();
  await db.close();
  await folder.release();
  await fs.rm(path.dirname(folder.root), { recursive: true });
});

/** The database, of which some queries fail as they do on a full disk. */
function failing(which: () => RegExp | undefined): Db {
  const query = ((sql: string, params?: unknown[]) => {
    if (which()?.test(sql)) return Promise.reject(new Error('could not extend file "base/5/16384": No space left on device'));
    return db.query(sql, params);
  }) as Db['query'];
  return { query, transaction: db.transaction.bind(db) as Db['transaction'] };
}

const states = async (): Promise<Record<string, string>> => Object.fromEntries((await allExports(db)).map(({ id, state }) => [id, state]));
async function until(holds: () => Promise<boolean> | boolean): Promise<void> {
  for (let i = 0; i < 400 && !(await holds()); i++) await new Promise((resolve) => setTimeout(resolve, 50));
  expect(await holds()).toBe(true);
}
const add = async (): Promise<string> => (await addExports(db, [versionId], fileWish.parse({ format: 'jpeg', quality: 90 })))[0] as string;

it('the queue of exports outlives what the database cannot write, tells what became of them, and keeps it when there is room', async () => {
  let fault: RegExp | undefined = /UPDATE exports/;
  const told: ExportJob[] = [];
  const exporter = new Exporter(
    failing(() => fault),
    folder,
    new Stores(db, folder, decoders, checks),
    new Workshop({ worker: built('worker.mjs'), kernels: built('kernels.wasm') }, 1),
    newLog('silent'),
    (job) => told.push(job),
    built('fonts'),
  );
  await exporter.begin();
  const [first, second] = [await add(), await add()];
  exporter.wake();
  await until(async () => (await exporter.states.one(second)).state === 'done');
  expect(await states()).toEqual({ [first]: 'waiting', [second]: 'waiting' });
  expect(told.filter(({ state }) => state === 'done').map(({ id }) => id)).toEqual([first, second]);
  expect((await exporter.states.all()).map(({ state, bytes }) => [state, (bytes ?? 0) > 1000])).toEqual([
    ['done', true],
    ['done', true],
  ]);

  // What failed because of it can be made again and cancelled, though nothing can be written.
  await fs.rm(path.join(folder.root, 'originals'), { recursive: true });
  const third = await add();
  exporter.wake();
  await until(async () => (await exporter.states.one(third)).state === 'failed');
  await exporter.states.set(third, 'waiting');
  await exporter.cancel(third);
  expect((await exporter.states.one(third)).state).toBe('cancelled');

  // Not even the list can be read for a while: it goes on by itself.
  fault = /exports/;
  exporter.wake();
  await new Promise((resolve) => setTimeout(resolve, 100));
  fault = undefined;
  await until(async () => (await states())[first] === 'done');
  expect(await states()).toEqual({ [first]: 'done', [second]: 'done', [third]: 'cancelled' });
  await exporter.close();
});

it('a photo that cannot be read is counted, and does not hide the others', async () => {
  const file = path.join(path.dirname(folder.root), 'second.jpg');
  await fs.writeFile(file, await jpeg(310, 200));
  const { id } = await importPhoto(db, folder, decoders, file, 'second.jpg');
  await db.query("UPDATE steps SET stack = '{}' WHERE version_id IN (SELECT id FROM versions WHERE photo_id = $1)", [id]);
  const { photos, unread } = await allPhotos(db, folder);
  expect([photos.map(({ name }) => name), unread]).toEqual([['photo'], 1]);
});
