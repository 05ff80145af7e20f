import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError } from '@bexlen/core';
import { fileWish, shelfWish } from '@bexlen/api';
import { takeFolder, type Folder } from '../src/folder';
import { Checks } from '../src/http/checks';
import { Decoders } from '../src/decoders/decoders';
import { importPhoto } from '../src/importer';
import { Bulletin } from '../src/http/bulletin';
import { Darkroom } from '../src/jobs/darkroom';
import { Orders } from '../src/jobs/orders';
import { Queue, type Taken } from '../src/jobs/queue';
import type { Objects } from '../src/objects/objects';
import { Stores } from '../src/jobs/supplies';
import { Workshop } from '@bexlen/render/pool/workshop';
import { newLog } from '../src/log';
import { openDb, type OpenDb, type Tx } from '../src/store/db';
import { claim, giveBack, recover, settle } from '../src/store/jobs';
import { photoById } from '../src/store/photos';
import { shelfPage } from '../src/store/shelf';
import { databaseOf, jpeg, laidOut, newFolder, soon } from './server';

const root = path.join(import.meta.dirname, '../..');
const built = (file: string): string => path.join(root, 'build', file);

let folder: Folder;
let db: OpenDb;
let versionId: string;
const decoders = new Decoders(built('decoder.mjs'));
const checks = new Checks(built('checks.mjs'));
beforeAll(async () => {
  const at = await newFolder();
  folder = await takeFolder(await laidOut(path.join(at, 'data')));
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

/** The database, of which some queries fail as they do on a full disk. @param failed is told of each. */
function failing(which: () => RegExp | undefined, failed: () => void): OpenDb {
  const guarded = (tx: Tx): Tx => ({
    query: (sql, params) => {
      if (!which()?.test(sql)) return tx.query(sql, params);
      failed();
      return Promise.reject(new Error('could not extend file "base/5/16384": No space left on device'));
    },
  });
  return { ...db, ...guarded(db), transaction: (act) => db.transaction((tx) => act(guarded(tx))) };
}

const until = (holds: () => Promise<boolean> | boolean): Promise<void> => soon(async () => expect(await holds()).toBe(true));
const wish = fileWish.parse({ format: 'jpeg', quality: 90 });
const log = newLog('silent');

/** A darkroom, and the desk where its files are ordered. */
async function house(on: OpenDb = db): Promise<{ orders: Orders; darkroom: Darkroom; queue: Queue; told: string[]; close: () => Promise<void> }> {
  const queue = await Queue.open(on, log);
  const bulletin = new Bulletin(on, log);
  const orders = new Orders(on, queue, folder, bulletin);
  const told: string[] = [];
  bulletin.hear('export', ({ id }) => told.push(id));
  const workshop = new Workshop({ worker: built('worker.mjs'), kernels: built('kernels.wasm') }, 1);
  const stores = new Stores(on, folder, decoders, checks);
  const darkroom = new Darkroom({ db: on, folder, queue, stores, workshop, bulletin, log, fonts: built('fonts'), threads: 1, silentSeconds: 8 });
  const close = async (): Promise<void> => {
    await darkroom.close();
    await queue.close();
  };
  return { orders, darkroom, queue, told, close };
}
const stateOf = async (orders: Orders, id: string): Promise<string> => (await orders.one(id)).state;
const order = async (orders: Orders, count = 1): Promise<string[]> =>
  (
    await orders.files(
      Array.from({ length: count }, () => versionId),
      wish,
    )
  ).map(({ id }) => id);

it('the queue outlives what the database cannot write, and goes on by itself when there is room', async () => {
  let fault: RegExp | undefined;
  let failures = 0;
  /** From now on these fail; once several have. */
  const fails = async (which: RegExp): Promise<void> => {
    [fault, failures] = [which, 0];
    await until(() => failures > 1);
  };
  const database = failing(
    () => fault,
    () => failures++,
  );
  const { orders, darkroom, told, close } = await house(database);
  await darkroom.begin();
  fault = /UPDATE exports SET state = 'working'/;
  const [first, second] = [...(await order(orders)), ...(await order(orders))] as [string, string];
  await until(() => failures > 0);
  expect([await stateOf(orders, first), await stateOf(orders, second)]).toEqual(['waiting', 'waiting']);
  // What was made cannot be told of: it stays in the making.
  await fails(/UPDATE exports SET state = \$3/);
  expect([await stateOf(orders, first), await stateOf(orders, second)]).toEqual(['working', 'waiting']);
  // Not even the queue can be read for a while.
  await fails(/exports|pgboss/);
  fault = undefined;
  await until(async () => (await stateOf(orders, second)) === 'done');
  expect(await stateOf(orders, first)).toBe('done');
  expect(new Set(told)).toEqual(new Set([first, second]));
  for (const id of [first, second]) expect(await folder.objects.size(await orders.key(id))).toBe((await orders.one(id)).bytes);
  await close();
});

it('of a job that two take, one result stands, and nothing of the other is left', async () => {
  const { orders, darkroom, queue, close } = await house();
  const [id] = (await order(orders)) as [string];
  const taken = (await queue.take()) as Taken;
  expect(taken.exportId).toBe(id);
  expect([await claim(db, taken, 'one'), await claim(db, taken, 'another')]).toEqual([true, false]);
  // The answer was lost on the way, and it is asked once more.
  expect(await claim(db, taken, 'one')).toBe(true);
  // The first one falls silent: the job goes to another under another name.
  expect(await giveBack(db, queue, taken, false)).toBe(true);
  await darkroom.begin();
  await until(async () => (await stateOf(orders, id)) === 'done');
  const key = await orders.key(id);
  expect(await settle(db, queue, taken, 'done', { bytes: 1, file: 'exports/of-the-first.jpg' })).toBe(false);
  expect(await settle(db, queue, taken, 'failed', {})).toBe(false);
  expect([await stateOf(orders, id), await orders.key(id)]).toEqual(['done', key]);
  await close();
});

it('says the same of what it was told before, where the answer was lost on the way', async () => {
  const { orders, queue, close } = await house();
  const [id] = (await order(orders)) as [string];
  const taken = (await queue.take()) as Taken;
  await claim(db, taken, 'one');
  const said = () => settle(db, queue, taken, 'done', { bytes: 1, file: 'exports/one.jpg' });
  expect([await said(), await said()]).toEqual([true, true]);
  expect(await settle(db, queue, taken, 'done', { bytes: 1, file: 'exports/other.jpg' })).toBe(false);
  expect(await stateOf(orders, id)).toBe('done');
  await close();
});

it('takes what somebody waits for before what was ordered by the dozen, and the dozen in its order', async () => {
  const { orders, queue, close } = await house();
  const dozen = await order(orders, 12);
  const [alone] = await order(orders);
  const taken: string[] = [];
  for (let next = await queue.take(); next; next = await queue.take()) {
    taken.push(next.exportId);
    await queue.over(db, next.job);
  }
  expect(taken).toEqual([alone, ...dozen]);
  await orders.cancel([...dozen, alone as string]);
  await close();
});

it('takes what was being made by a machine that was lost before all else', async () => {
  const { orders, queue, close } = await house();
  const dozen = await order(orders, 3);
  const lost = (await queue.take()) as Taken;
  await claim(db, lost, 'gone');
  const [alone] = await order(orders);
  await recover(db, queue, false, 8);
  expect([(await queue.take())?.exportId, (await queue.take())?.exportId]).toEqual([lost.exportId, alone]);
  await orders.cancel([...dozen, alone as string]);
  await close();
});

it('tries again what the store did not take, and says so when it never does', async () => {
  const { orders, darkroom, close } = await house();
  const { objects } = folder;
  let refusals = 0;
  const refusing: Objects['keep'] = (key, file) => {
    if (refusals-- > 0) return Promise.reject(new BexlenError('no-store', 'The store does not answer.', 'Look whether it runs.'));
    return objects.keep(key, file);
  };
  Object.assign(folder, { objects: { ...objects, keep: refusing } });
  refusals = 1;
  await darkroom.begin();
  const [once] = (await order(orders)) as [string];
  await until(async () => (await stateOf(orders, once)) === 'done');
  // Only the last of many times is left to it.
  refusals = Infinity;
  const [never] = (await order(orders)) as [string];
  await db.query('UPDATE exports SET tries = 5 WHERE id = $1', [never]);
  await until(async () => (await stateOf(orders, never)) === 'failed');
  expect((await orders.one(never)).fault).toMatchObject({ code: 'no-store', message: 'The store does not answer.' });
  Object.assign(folder, { objects });
  await close();
});

it('makes what a process that ended was making, or had taken and not begun with', async () => {
  const { orders, darkroom, queue, close } = await house();
  const [begun, held] = (await order(orders, 2)) as [string, string];
  const first = (await queue.take()) as Taken;
  await claim(db, first, 'gone');
  // It was written, but not taken over.
  const left = `exports/${begun}.${first.job}.jpg`;
  const file = path.join(folder.unfinished, 'left');
  await fs.writeFile(file, 'whole');
  await folder.objects.keep(left, file);
  expect((await queue.take())?.exportId).toBe(held);
  expect(await queue.take()).toBeUndefined();
  await darkroom.begin();
  await until(async () => (await stateOf(orders, begun)) === 'done' && (await stateOf(orders, held)) === 'done');
  expect(await folder.objects.size(left)).toBeUndefined();
  await close();
});

it('a photo that cannot be read is counted, and does not hide the others', async () => {
  const file = path.join(path.dirname(folder.root), 'second.jpg');
  await fs.writeFile(file, await jpeg(310, 200));
  const { id } = await importPhoto(db, folder, decoders, file, 'second.jpg');
  await db.query("UPDATE steps SET stack = '{}' WHERE version_id IN (SELECT id FROM versions WHERE photo_id = $1)", [id]);
  const { photos, unread } = await shelfPage(db, folder, shelfWish.parse({}));
  expect([photos.map(({ name }) => name), unread]).toEqual([['photo'], 1]);
});
