import { execFileSync } from 'node:child_process';
import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { emptyStack } from '@bexlen/core';
import { shelfWish, type ExportJob, type Photo, type ShelfWish } from '@bexlen/api';
import { House, demoWhole } from '../../e2e/src/house';
import { takeFolder } from '../../server/src/folder';
import { newLog } from '../../server/src/log';
import { Queue } from '../../server/src/jobs/queue';
import { openDb, type OpenDb } from '../../server/src/store/db';
import { allExports, countsOf, waitingExports } from '../../server/src/store/exports';
import { claim, settle } from '../../server/src/store/jobs';
import { allMachines } from '../../server/src/store/machines';
import { shelfPage } from '../../server/src/store/shelf';
import { Bucket } from '../../server/test/bucket';
import { Cluster, programs } from '../../server/test/postgres';
import { upload } from '../../server/test/upload';

const root = path.resolve(import.meta.dirname, '../..');
const FILES = 200;
const JOBS = 100_000;
const PHOTOS = 1_000_000;
const ASKED = 200;
/** Photos of a page: some screens. */
const SCREENS = 100;

/** Many machines on the tables and the store of one: what files come to by several darkrooms, and what the tables take when there is a lot in them. */
export async function benchHouse(): Promise<void> {
  if (!programs()) return console.log('There is no PostgreSQL on this machine: left out');
  const [cluster, bucket] = [await Cluster.begin(), await Bucket.begin()];
  try {
    await manyRows(await cluster.database('rows'));
    const env = { ...bucket.env, BEXLEN_DATABASE: await cluster.database('studio'), BEXLEN_STORE: bucket.address() };
    for (const count of [1, 2, 4]) await byDarkrooms(count, env);
  } finally {
    await cluster.end();
    await bucket.end();
  }
}

/** Files by so many darkrooms, each pinned to a core. */
async function byDarkrooms(count: number, env: Record<string, string>): Promise<void> {
  const web = await House.open(['--empty', '--role', 'web'], env, 'alone');
  const darkrooms: House[] = [];
  try {
    for (let i = 0; i < count; i++) {
      const one = await House.open(['--role', 'darkroom'], env, 'alone');
      execFileSync('taskset', ['-a', '-cp', String(i % 2), String(one.pid)], { stdio: 'ignore' });
      darkrooms.push(one);
    }
    const { photo } = (await upload(web.address, await fs.readFile(demoWhole('dunes.jpg')), 'dunes.jpg')).body as unknown as { photo: Photo };
    const versionIds = Array<string | undefined>(FILES).fill(photo.versions[0]?.id);
    const start = performance.now();
    const ordered = await fetch(`${web.address}/api/exports`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ versionIds, wish: { format: 'jpeg', edge: 2000 } }),
    });
    const ids = new Set(((await ordered.json()) as { exports: ExportJob[] }).exports.map(({ id }) => id));
    let done: ExportJob[] = [];
    while (done.length < FILES) {
      await new Promise((resolve) => setTimeout(resolve, 500));
      const { exports } = await web.get<{ exports: ExportJob[] }>('/exports');
      done = exports.filter(({ id, state }) => ids.has(id) && state === 'done');
    }
    const seconds = (performance.now() - start) / 1000;
    const made = done.reduce((sum, { tookMs }) => sum + (tookMs ?? 0), 0) / 1000;
    console.log(
      `${FILES} files by ${count} darkrooms, a core each of two`.padEnd(50),
      `${((FILES * 60) / seconds).toFixed(0)} a minute; beside the making ${(((seconds * count - made) * 1000) / FILES).toFixed(0)} ms a file`,
    );
  } finally {
    for (const one of [...darkrooms, web]) await one.close();
  }
}

/** What is asked of tables that are full. */
async function manyRows(address: string): Promise<void> {
  const db = await openDb(address, path.join(root, 'server/src/store/migrations'));
  const queue = await Queue.open(db, newLog('silent'));
  await db.query(
    `INSERT INTO photos (id, hash, name, format, width, height, depth, alpha, bytes)
     SELECT 'p' || i, md5(i::text) || md5(i::text), 'Photo ' || i, 'jpeg', 6000, 4000, 8, false, 9000000 FROM generate_series(1, $1::int) i`,
    [PHOTOS],
  );
  await db.query(
    `INSERT INTO exports (id, photo_id, stack, file_name, format, depth, width, height, wish, state, job)
     SELECT 'e' || i, 'p' || i, '{}', 'Photo ' || i || '.jpg', 'jpeg', 8, 6000, 4000, '{}', CASE WHEN i % 2 = 0 THEN 'waiting' ELSE 'done' END, gen_random_uuid()
     FROM generate_series(1, $1::int) i`,
    [JOBS],
  );
  await db.query(
    `INSERT INTO pgboss.job (id, name, data, priority, expire_in)
     SELECT job, 'exports', jsonb_build_object('exportId', id), 0, interval '1800 s' FROM exports WHERE state = 'waiting'`,
  );
  await db.query("INSERT INTO versions (id, photo_id, name) SELECT 'v' || i, 'p' || i, 'Version 1' FROM generate_series(1, $1::int) i", [PHOTOS]);
  await db.query(
    "INSERT INTO steps (version_id, place, words, stack) SELECT 'v' || i, 0, 'As it came', $2::jsonb FROM generate_series(1, $1::int) i",
    [PHOTOS, JSON.stringify(emptyStack)],
  );
  await db.run('ANALYZE');
  await shelves(db);
  await asked('the list of exports', () => allExports(db));
  await asked('machines and how many wait', async () => [await allMachines(db, false, 8), await waitingExports(db)]);
  await asked('how many there are of each state', () => countsOf(db));
  await asked('a job taken, claimed and ended', async () => {
    const taken = await queue.take();
    if (!taken || !(await claim(db, taken, 'bench'))) throw new Error('no job was there');
    await settle(db, queue, taken, 'done', { bytes: 1, file: 'exports/none' });
  });
  await explained(db, 'SELECT id FROM exports ORDER BY created_at DESC LIMIT 500');
  await explained(db, "SELECT count(*) FROM exports WHERE state = 'waiting'");
  await explained(
    db,
    "SELECT id FROM pgboss.job WHERE name = 'exports' AND state < 'active' AND start_after < now() ORDER BY priority DESC, created_on, id LIMIT 1 FOR UPDATE SKIP LOCKED",
  );
  await queue.close();
  await db.close();
}

/** Pages of the shelf, as it is opened, scrolled and searched. */
async function shelves(db: OpenDb): Promise<void> {
  const data = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  const folder = await takeFolder(data);
  const page = (wish: Partial<ShelfWish>) => shelfPage(db, folder, { ...shelfWish.parse({ limit: SCREENS }), ...wish });
  const any = (): string => String(1 + Math.floor(Math.random() * PHOTOS));
  const deep = (await page({ bin: false, sort: 'name', find: '999' })).next as string;
  for (const [what, wish] of [
    ['the shelf opened', () => ({})],
    ['the shelf by name, far down', () => ({ bin: false, sort: 'name', after: deep })],
    ['the shelf by the time of taking', () => ({ bin: false, sort: 'taken' })],
    ['a search for one', () => ({ bin: false, find: `photo ${any()}` })],
    ['a search for what all have', () => ({ bin: false, find: 'photo' })],
    ['a search for some digits', () => ({ bin: false, find: any().slice(0, 4) })],
  ] as const satisfies readonly (readonly [string, () => Partial<ShelfWish>])[])
    await asked(`${what}, ${SCREENS} photos`, () => page(wish()));
  await explained(db, 'SELECT * FROM photos WHERE binned = false ORDER BY imported_at DESC, id DESC LIMIT 101');
  await explained(db, "SELECT * FROM photos WHERE lower(name || ' ' || caption) LIKE '%photo 123456%' ORDER BY imported_at DESC, id DESC LIMIT 101");
  await folder.release();
  await fs.rm(data, { recursive: true });
}

async function asked(what: string, act: () => Promise<unknown>): Promise<void> {
  const times: number[] = [];
  for (let i = 0; i < ASKED; i++) {
    const start = performance.now();
    await act();
    times.push(performance.now() - start);
  }
  times.sort((a, b) => a - b);
  const at = (share: number): string => (times[Math.floor(share * times.length)] as number).toFixed(1);
  console.log(`${what}, ${JOBS} jobs, ${PHOTOS} photos`.padEnd(66), `in the middle ${at(0.5)} ms, at the 99th hundredth ${at(0.99)} ms (target 50)`);
}

async function explained(db: OpenDb, sql: string): Promise<void> {
  const { rows } = await db.query<{ 'QUERY PLAN': string }>(`EXPLAIN ${sql}`);
  console.log(`  ${sql}\n${rows.map((row) => `    ${row['QUERY PLAN']}`).join('\n')}`);
}
