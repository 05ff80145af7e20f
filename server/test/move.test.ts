import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import type { ExportJob, Photo } from '@bexlen/api';
import { asking, order } from './asking';
import { Bucket } from './bucket';
import { Cluster } from './postgres';
import { filesIn, jpeg, newFolder, startServer, upload } from './server';

const root = path.join(import.meta.dirname, '../..');

/** The built program that moves a house; what it says, and the code that it ends with. */
async function moved(args: readonly string[]): Promise<{ code: number; said: string }> {
  const { run } = (await import(path.join(root, 'build/move.mjs'))) as typeof import('../src/move/main');
  let said = '';
  const say = (line: string): void => void (said += `${line}\n`);
  return { code: await run(args, say, say), said };
}

let folder: string;
let bucket: Bucket;
let env: Record<string, string>;
beforeAll(async () => {
  [folder, bucket] = [await newFolder(), await Bucket.begin()];
  Object.assign(process.env, bucket.env);
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

it('what one that was killed left behind goes, and nothing lies in the folder that it is started in', async () => {
  const left = path.join(os.tmpdir(), 'bexlen-moving-4194304-left');
  await fs.mkdir(left);
  const { code, said } = await moved(['--to', path.join(folder, 'nowhere'), '--from', path.join(folder, 'not-there')]);
  expect([code, said]).toEqual([1, expect.stringMatching(/There is no data folder there/)]);
  await expect(fs.access(left)).rejects.toThrow();
  expect((await fs.readdir('.')).filter((name) => name.includes('moving'))).toEqual([]);
  expect((await fs.readdir(os.tmpdir())).filter((name) => name.startsWith(`bexlen-moving-${process.pid}-`))).toEqual([]);
});

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

  const cluster = await Cluster.begin();
  try {
    const to = await cluster.database('studio');
    const there = { ...env, BEXLEN_STORE: bucket.address(), BEXLEN_DATABASE: to };
    const args = ['--from', path.join(from, 'data'), '--to', to, '--store', bucket.address()];
    // The store breaks off in the middle; the second time it goes on from there.
    bucket.mood = 'read-only';
    expect(await moved(args)).toMatchObject({ code: 1, said: expect.stringContaining('may not be written to') as string });
    bucket.mood = 'well';
    expect((await moved(args)).said).toMatch(/2 photos, 2 versions and 2 files were carried .*0 photos were there already/);
    expect((await moved(args)).said).toMatch(/0 photos, 0 versions and 0 files were carried \(0.0 MB\); 2 photos were there already/);
    expect(await bytes()).toEqual(held);
    const second = await startServer(path.join(folder, 'between'), 64e6, [], there);
    expect(await shelfOf(second.address)).toEqual(before);
    // What is changed there since stays so.
    const [photo] = (before as { photos: Photo[] }).photos as [Photo];
    const renamed = await asking(() => second.address).ask('PATCH', `/versions/${photo.versions[0]?.id}`, { name: 'Changed there' });
    expect(renamed.status).toBe(200);
    await second.close();

    const back = path.join(folder, 'back/data');
    const home = await moved(['--from', to, '--from-store', bucket.address(), '--to', back]);
    expect(home.said).toMatch(/2 photos, 2 versions and 2 files were carried/);
    const third = await startServer(path.join(folder, 'back'), 64e6, [], env);
    const after = (await shelfOf(third.address)) as { photos: Photo[]; files: string[] };
    expect(after.files).toEqual((before as { files: string[] }).files);
    expect(after.photos.flatMap(({ versions }) => versions.map(({ name }) => name))).toContain('Changed there');
    await third.close();
  } finally {
    await cluster.end();
  }
});

it.each([
  ['nothing', [], 'Use: ./bexlen move'],
  ['a server without a store', ['--to', 'postgres://x@127.0.0.1:9/y'], 'Give --store'],
  ['a folder that is none', ['--from', '/nowhere/at/all', '--to', '/tmp/never'], 'There is no data folder there'],
])('says what to do where it is called with %s', async (_, args, says) => {
  const { code, said } = await moved(args);
  expect(said).toContain(says);
  expect(code).not.toBe(0);
});
