import { execFileSync } from 'node:child_process';
import fs from 'node:fs/promises';
import path from 'node:path';
import type { ExportJob, Photo } from '@bexlen/api';
import { asking } from './asking';
import { Cluster, programs } from './postgres';
import { jpeg, newFolder, soon, startServer, upload, type Running } from './server';

const root = path.join(__dirname, '../..');
const MIGRATIONS = 'server/src/store/migrations';
/** What the server is built of. */
const PARTS = [
  'package.json',
  'package-lock.json',
  'tsconfig.base.json',
  'scripts',
  'core',
  'api',
  'render',
  'server',
  'cli',
  'app',
  'looks',
  'demo',
];
const git = (...args: string[]): Buffer => execFileSync('git', args, { cwd: root, stdio: ['ignore', 'pipe', 'ignore'], maxBuffer: 1e9 });

/** The commit before the one that changed the tables last; undefined where it is not known here. */
function before(): string | undefined {
  try {
    const last = git('log', '-1', '--diff-filter=A', '--format=%H', '--', MIGRATIONS).toString().trim();
    return git('rev-parse', '--verify', `${last}~1`).toString().trim();
  } catch {
    return undefined;
  }
}
const commit = before();
const can = commit !== undefined && programs() !== undefined;
if (!can) console.warn('The version before is not tried on the tables of this one: that takes PostgreSQL and the history of the code.');

/** Builds the version before in a folder, with the packages of this one. */
async function buildBefore(folder: string): Promise<string> {
  const home = path.join(folder, 'before');
  await fs.mkdir(path.join(home, 'node_modules/@bexlen'), { recursive: true });
  const archive = git('archive', commit as string, '--', ...PARTS);
  execFileSync('tar', ['-x', '-C', home], { input: archive });
  for (const name of await fs.readdir(path.join(root, 'node_modules')))
    if (name !== '@bexlen') await fs.symlink(path.join(root, 'node_modules', name), path.join(home, 'node_modules', name));
  for (const name of await fs.readdir(path.join(root, 'node_modules/@bexlen')))
    await fs.symlink(path.join(home, name), path.join(home, 'node_modules/@bexlen', name));
  for (const name of ['core', 'render', 'server'])
    await fs.symlink(path.join(root, name, 'node_modules'), path.join(home, name, 'node_modules')).catch(() => undefined);
  execFileSync(process.execPath, ['scripts/build.mjs', '--no-app'], { cwd: home, stdio: 'ignore' });
  // Its page is not looked at.
  await fs.cp(path.join(root, 'app/dist'), path.join(home, 'app/dist'), { recursive: true });
  return home;
}

(can ? describe : describe.skip)('the version before, beside this one on its tables', () => {
  let cluster: Cluster;
  let folder: string;
  const running: Running[] = [];
  beforeAll(async () => {
    [cluster, folder] = [await Cluster.begin(), await newFolder()];
  });
  afterAll(async () => {
    for (const one of running) await one.kill();
    await cluster.end();
    await fs.rm(folder, { recursive: true });
  });

  it('takes photos and makes files, and each goes on with what the other has begun', async () => {
    const home = await buildBefore(folder);
    const env = { BEXLEN_DATABASE: await cluster.database('studio'), BEXLEN_STORE: path.join(folder, 'store') };
    const started = async (name: string, role: string, where: string): Promise<Running> => {
      const one = await startServer(path.join(folder, name), 64e6, ['--role', role], env, where);
      running.push(one);
      return one;
    };
    await fs.mkdir(env.BEXLEN_STORE);
    const newer = await started('newer', 'web', root);
    const older = await started('older', 'web', home);
    const [now, then] = [asking(() => newer.address), asking(() => older.address)];
    const photo = (await upload(older.address, await jpeg(400, 300), 'older.jpg')).body['photo'] as unknown as Photo;
    await upload(newer.address, await jpeg(410, 300), 'newer.jpg');
    for (const { ask } of [now, then]) {
      const { photos } = (await ask<{ photos: Photo[] }>('GET', '/photos')).body;
      expect(photos.map(({ name }) => name).sort()).toEqual(['newer', 'older']);
    }
    const made = async (by: string, where: string, orderedAt: typeof now): Promise<void> => {
      const darkroom = await started(by, 'darkroom', where);
      const order = { versionIds: [photo.versions[0]?.id], wish: { format: 'jpeg' } };
      const { status, body } = await orderedAt.ask<{ exports: ExportJob[] }>('POST', '/exports', order);
      expect(status).toBe(201);
      const [job] = body.exports as [ExportJob];
      for (const { ask } of [now, then])
        await soon(async () => {
          const { exports } = (await ask<{ exports: ExportJob[] }>('GET', '/exports')).body;
          expect(exports.find(({ id }) => id === job.id)).toMatchObject({ state: 'done', fault: null });
        }, 30_000);
      await darkroom.close();
    };
    await made('older darkroom', home, now);
    await made('newer darkroom', root, then);
    // It is built on the way.
  }, 400_000);
});

it('what is run on the tables from now on only adds to them', async () => {
  // Whatever stands beside it is of the version before.
  const files = (await fs.readdir(path.join(root, MIGRATIONS))).filter((name) => name > '0009');
  for (const file of files) {
    const sql = await fs.readFile(path.join(root, MIGRATIONS, file), 'utf8');
    expect([file, /\b(DROP|RENAME|TRUNCATE|DELETE)\b|ALTER COLUMN|SET NOT NULL/i.exec(sql)?.[0]]).toEqual([file, undefined]);
  }
});
