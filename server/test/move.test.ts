import { execFile } from 'node:child_process';
import fs from 'node:fs/promises';
import path from 'node:path';
import type { ExportJob, Photo } from '@bexlen/api';
import { asking, order } from './asking';
import { Bucket } from './bucket';
import { Cluster, programs } from './postgres';
import { filesIn, jpeg, newFolder, startServer, upload } from './server';

const root = path.join(__dirname, '../..');
const have = programs() !== undefined;
if (!have) console.warn('There is no PostgreSQL on this machine: what needs it is left out. Install it with: apt-get install postgresql');

/** The built program that moves a house; what it says, and the code that it ends with. */
const moved = (args: readonly string[], env: Record<string, string> = {}): Promise<{ code: number; said: string }> =>
  new Promise((resolve) => {
    execFile(process.execPath, [path.join(root, 'build/move.mjs'), ...args], { env: { ...process.env, ...env } }, (error, out, err) =>
      resolve({ code: (error?.code as number | undefined) ?? 0, said: out + err }),
    );
  });

let folder: string;
let bucket: Bucket;
let env: Record<string, string>;
beforeAll(async () => {
  [folder, bucket] = [await newFolder(), await Bucket.begin()];
  env = { ...bucket.env, BEXLEN_TEST_POSTGRES: '', BEXLEN_TEST_STORE: '' };
});
afterAll(async () => {
  await bucket.end();
  await fs.rm(folder, { recursive: true });
});

/** What a shelf holds, as its pages are told. */
async function shelfOf(address: string): Promise<unknown> {
  const { ask } = asking(() => address);
  const { photos } = (await ask<{ photos: Photo[] }>('GET', '/photos')).body;
  const versions = await Promise.all(
    photos.flatMap(({ versions }) => versions).map(async ({ id }) => (await ask<object>('GET', `/versions/${id}`)).body),
  );
  const { exports } = (await ask<{ exports: ExportJob[] }>('GET', '/exports')).body;
  const files = [];
  for (const { id } of exports) files.push(Buffer.from(await (await fetch(`${address}/api/exports/${id}/file`)).arrayBuffer()).toString('base64'));
  return { photos, versions, exports: exports.map(({ machine: _machine, ...job }) => job), files };
}

it('a house is carried to other tables and another store and back, as often as it is broken off, and is the same', async () => {
  const from = path.join(folder, 'from');
  const first = await startServer(from, 64e6, [], env);
  const { ask, finished } = asking(() => first.address);
  for (const width of [320, 330]) {
    const { photo } = (await upload(first.address, await jpeg(width), `${width}.jpg`)).body as unknown as { photo: Photo };
    await finished((await order(ask, { versionId: photo.versions[0]?.id, format: 'jpeg' })).body);
  }
  const before = await shelfOf(first.address);
  await first.close();
  const bytes = async (): Promise<Record<string, string>> =>
    Object.fromEntries(
      await Promise.all(
        (await filesIn(path.join(from, 'data')))
          .filter((file) => !file.endsWith('owner.pid'))
          .map(async (file) => [file, (await fs.readFile(file)).toString('base64')]),
      ),
    );
  const held = await bytes();

  const cluster = have ? await Cluster.begin() : undefined;
  try {
    // Where there is no PostgreSQL, into another folder.
    const to = cluster ? await cluster.database('studio') : path.join(folder, 'between/data');
    const there = { ...env, BEXLEN_STORE: bucket.address(), ...(cluster && { BEXLEN_DATABASE: to }) };
    const args = ['--from', path.join(from, 'data'), '--to', to, '--store', bucket.address()];
    // The store breaks off in the middle; the second time it goes on from there.
    bucket.mood = 'read-only';
    expect(await moved(args, env)).toMatchObject({ code: 1, said: expect.stringContaining('may not be written to') as string });
    bucket.mood = 'well';
    expect((await moved(args, env)).said).toMatch(/2 photos, 2 versions and 2 files were carried .*0 photos were there already/);
    expect((await moved(args, env)).said).toMatch(/0 photos, 0 versions and 0 files were carried \(0.0 MB\); 2 photos were there already/);
    expect(await bytes()).toEqual(held);
    const second = await startServer(path.join(folder, 'between'), 64e6, [], there);
    expect(await shelfOf(second.address)).toEqual(before);
    // What is changed there since stays so.
    const [photo] = (before as { photos: Photo[] }).photos as [Photo];
    const renamed = await asking(() => second.address).ask('PATCH', `/versions/${photo.versions[0]?.id}`, { name: 'Changed there' });
    expect(renamed.status).toBe(200);
    await second.close();

    const back = path.join(folder, 'back/data');
    const home = await moved(['--from', to, '--from-store', bucket.address(), '--to', back], env);
    expect(home.said).toMatch(/2 photos, 2 versions and 2 files were carried/);
    const third = await startServer(path.join(folder, 'back'), 64e6, [], env);
    const after = (await shelfOf(third.address)) as { photos: Photo[]; files: string[] };
    expect(after.files).toEqual((before as { files: string[] }).files);
    expect(after.photos.flatMap(({ versions }) => versions.map(({ name }) => name))).toContain('Changed there');
    await third.close();
  } finally {
    await cluster?.end();
  }
}, 180_000);

it.each([
  ['nothing', [], 'Use: ./bexlen move'],
  ['a server without a store', ['--to', 'postgres://x@127.0.0.1:9/y'], 'Give --store'],
  ['a folder that is none', ['--from', '/nowhere/at/all', '--to', '/tmp/never'], 'There is no data folder there'],
])('says what to do where it is called with %s', async (_, args, says) => {
  const { code, said } = await moved(args, env);
  expect(said).toContain(says);
  expect(code).not.toBe(0);
});
