import { createHash } from 'node:crypto';
import fs from 'node:fs/promises';
import http from 'node:http';
import path from 'node:path';
import sharp from 'sharp';
import type { ExportJob, Machine, Photo } from '@bexlen/api';
import { openObjects } from '../src/objects/objects';
import { asking, treated, type Asking } from './asking';
import { Bucket } from './bucket';
import { Cluster } from './postgres';
import { jpeg, newFolder, soon, startAlone, startServer, upload, type Running, type RunningAlone } from './server';

/** Several processes as several machines have them, on a database and an object store of their own: nothing is shared but these two addresses. */
/** What is answered to a request that calls this machine by a name. */
const statusUnder = (host: string, where: string): Promise<number | undefined> =>
  new Promise((resolve, reject) => {
    http.get(where, { headers: { Host: host }, agent: false }, (answer) => resolve(answer.resume().statusCode)).once('error', reject);
  });

describe('a house of many machines', () => {
  let cluster: Cluster;
  let bucket: Bucket;
  let folder: string;
  let env: Record<string, string>;
  const running = new Set<Running>();
  let count = 0;
  const started = async <R extends Running>(by: typeof startServer | typeof startAlone, role: string, more: Record<string, string>): Promise<R> => {
    const one = (await by(path.join(folder, `machine-${++count}`), 64e6, ['--role', role], { ...env, ...more })) as R;
    running.add(one);
    return one;
  };
  const ended = async (one: Running): Promise<void> => {
    running.delete(one);
    await one.close();
  };
  const darkroom = (more: Record<string, string> = {}): Promise<Running> => started(startServer, 'darkroom', more);
  /** As a process of its own, to be killed or held. */
  const darkroomAlone = (more: Record<string, string> = {}): Promise<RunningAlone> => started(startAlone, 'darkroom', more);

  let web: Running[];
  let asks: Asking[];
  let versionId: string | undefined;
  /** Of which a file takes a second or so. */
  let large: string | undefined;
  beforeAll(async () => {
    [cluster, bucket, folder] = [await Cluster.begin(), await Bucket.begin(), await newFolder()];
    Object.assign(process.env, bucket.env);
    env = { ...bucket.env, BEXLEN_DATABASE: await cluster.database('studio'), BEXLEN_STORE: bucket.address(), BEXLEN_SILENT_SECONDS: '3' };
    web = [await started(startServer, 'web', {}), await started(startServer, 'web', {})];
    asks = web.map(({ address }) => asking(() => address));
    const imported = async (width: number, height: number): Promise<string | undefined> => {
      const { body } = await upload(web[0]?.address as string, await jpeg(width, height), `${width}.jpg`);
      return (body['photo'] as unknown as Photo).versions[0]?.id;
    };
    [versionId, large] = [await imported(700, 500), await imported(1500, 1100)];
  });
  // What a test leaves behind when it fails is not in the way of the next.
  afterEach(async () => {
    for (const one of running) if (!web.includes(one)) await ended(one);
  });
  afterAll(async () => {
    for (const one of running) await one.close();
    await cluster.end();
    await bucket.end();
    await fs.rm(folder, { recursive: true });
  });

  const ask = <T>(which: 0 | 1, method: string, url: string, body?: unknown) => (asks[which] as Asking).ask<T>(method, url, body);
  const orderFiles = async (files: number, of = versionId): Promise<string[]> => {
    const wish = of === large ? { format: 'png', depth: 16 } : { format: 'jpeg', edge: 300 };
    const { status, body } = await ask<{ exports: ExportJob[] }>(1, 'POST', '/exports', { versionIds: Array(files).fill(of), wish });
    expect(status).toBe(201);
    return body.exports.map(({ id }) => id);
  };
  const jobs = async (ids: readonly string[]): Promise<ExportJob[]> =>
    (await ask<{ exports: ExportJob[] }>(0, 'GET', '/exports')).body.exports.filter(({ id }) => ids.includes(id));
  const numberDone = async (ids: readonly string[]): Promise<number> => (await jobs(ids)).filter(({ state }) => state === 'done').length;
  const allDone = (ids: readonly string[]): Promise<void> =>
    soon(async () => expect((await jobs(ids)).map(({ state, fault }) => fault?.message ?? state)).toEqual(ids.map(() => 'done')));
  /** Every file is there once, whole, and the same; nothing else is. */
  const onceEach = async (ids: readonly string[]): Promise<void> => {
    const store = await openObjects(env['BEXLEN_STORE'], path.join(folder, `look-${++count}`));
    const keys = [];
    for await (const { key } of store.list('exports')) keys.push(key);
    const named = keys.map((key) => path.basename(key).split('.')[0] as string);
    expect(named.filter((id) => ids.includes(id)).sort()).toEqual([...ids].sort());
    const sums = new Set<string>();
    for (const id of ids) {
      const bytes = Buffer.from(await (await fetch(`${web[0]?.address}/api/exports/${id}/file`)).arrayBuffer());
      await sharp(bytes).stats();
      sums.add(createHash('sha256').update(bytes).digest('hex'));
    }
    expect(sums.size).toBe(1);
  };

  it('imports by one, orders by another, makes by a third, and says so to whoever looks', async () => {
    const one = await darkroom();
    const heard: string[] = [];
    const stop = new AbortController();
    const events = await fetch(`${web[0]?.address}/api/events`, { signal: stop.signal });
    const reading = (async () => {
      for await (const part of events.body as unknown as AsyncIterable<Uint8Array>) heard.push(Buffer.from(part).toString());
    })().catch(() => undefined);
    await soon(async () => expect(heard.join('')).toContain('event:hello'));
    await ask(1, 'PATCH', `/versions/${versionId}`, { name: 'Named elsewhere' });
    await soon(async () => expect(heard.join('')).toContain('event:shelf'));
    const [id] = (await orderFiles(1)) as [string];
    await soon(async () => expect(heard.join('')).toMatch(new RegExp(`"id":"${id}".*"state":"done"`)));
    stop.abort();
    await reading;
    const { machines } = (await ask<{ machines: Machine[] }>(1, 'GET', '/exports/machines')).body;
    expect(machines).toMatchObject([{ made: 1, silent: false, doing: null }]);
    expect(await (await fetch(`${one.address}/metrics`)).text()).toContain('bexlen_jobs_ended_total{state="done"} 1');
    expect((await fetch(`${one.address}/api/photos`)).status).toBe(404);
    // A name that a stranger's page was given for this machine.
    expect(await statusUnder('there.example', `${one.address}/metrics`)).toBe(421);
    await onceEach([id]);
    await ended(one);
    expect((await ask<{ machines: Machine[] }>(1, 'GET', '/exports/machines')).body.machines).toEqual([]);
  });

  it('has small pictures made by a darkroom, once for all, and by itself where there is none', async () => {
    const keys = async (): Promise<string[]> => {
      const store = await openObjects(env['BEXLEN_STORE'], path.join(folder, `look-${++count}`));
      const all = [];
      for await (const { key } of store.list('thumbs')) all.push(key.replace(/.*\//, ''));
      return all;
    };
    const change = async (revision: number): Promise<void> => {
      const stack = { ...treated, master: 1 / revision };
      const steps = [{ words: 'Changed', stack }];
      const { status, body } = await ask(1, 'PUT', `/versions/${versionId}`, {
        replaces: revision,
        forget: 0,
        from: revision,
        steps,
        cursor: revision,
      });
      expect([status, body]).toMatchObject([200, { revision: revision + 1 }]);
    };
    const picture = async (which: 0 | 1): Promise<Buffer> => {
      const answer = await fetch(`${web[which]?.address}/api/versions/${versionId}/thumb`);
      expect(answer.status).toBe(200);
      return Buffer.from(await answer.arrayBuffer());
    };
    let revision = 0;
    /** A web process makes what a busy darkroom has not made in good time. */
    const changedAndMadeBy = async (which: 0 | 1): Promise<Buffer> => {
      let made: Buffer | undefined;
      await soon(async () => {
        await change(++revision);
        made = await picture(which);
        expect(await keys()).toEqual([`${revision + 1}.jpg`]);
      });
      return made as Buffer;
    };
    const one = await darkroom();
    const made = await changedAndMadeBy(0);
    expect((await sharp(made).metadata()).width).toBe(640);
    expect(await picture(1)).toEqual(made);
    expect(await changedAndMadeBy(1)).not.toEqual(made);
    const kept = await keys();
    await ended(one);
    await change(++revision);
    await picture(0);
    expect(await keys()).toEqual(kept);
  });

  it('loses nothing and makes nothing twice, though a darkroom is killed, with its clock an hour ahead', async () => {
    const other = await darkroom();
    const preload = { NODE_OPTIONS: `--require ${path.join(import.meta.dirname, 'skewed.cjs')}` };
    const victim = await darkroomAlone(preload);
    const ids = await orderFiles(4, large);
    await soon(async () => expect((await jobs(ids)).filter(({ state }) => state === 'working').length).toBeGreaterThan(1));
    running.delete(victim);
    await victim.kill();
    await allDone(ids);
    await onceEach(ids);
    await ended(other);
  });

  it('goes on after the database was started anew, and the store was busy and broke off', async () => {
    const both = [await darkroom(), await darkroom()];
    const ids = await orderFiles(8);
    await soon(async () => expect(await numberDone(ids)).toBeGreaterThan(0));
    await cluster.restart();
    await soon(async () => expect(await numberDone(ids)).toBeGreaterThan(2));
    for (const mood of ['busy', 'cut', 'well'] as const) {
      bucket.mood = mood;
      bucket.asked = [];
      await soon(() => Promise.resolve(expect(bucket.asked.length).toBeGreaterThan(3)));
    }
    await allDone(ids);
    await onceEach(ids);
    for (const one of both) await ended(one);
  });

  it('stops a batch that several machines work on, and gives back what a machine had that is stopped', async () => {
    const three = [await darkroom(), await darkroom(), await darkroom()];
    const ids = await orderFiles(8, large);
    await soon(async () => expect((await jobs(ids)).filter(({ state }) => state === 'working').length).toBe(3));
    await ask(0, 'POST', '/exports/stop', { ids });
    await soon(async () => {
      const { machines } = (await ask<{ machines: Machine[] }>(0, 'GET', '/exports/machines')).body;
      expect(machines.filter(({ silent }) => !silent).map(({ doing }) => doing)).toEqual([null, null, null]);
      expect((await jobs(ids)).filter(({ state }) => state === 'waiting' || state === 'working')).toEqual([]);
    });
    const [first, ...others] = three as [Running, Running, Running];
    for (const one of others) await ended(one);
    const more = await orderFiles(3, large);
    await soon(async () => expect((await jobs(more)).some(({ state }) => state === 'working')).toBe(true));
    await ended(first);
    expect((await jobs(more)).filter(({ state }) => state === 'working')).toEqual([]);
    const next = await darkroom();
    await allDone(more);
    await ended(next);
  });

  it('says by name which machine fell silent', async () => {
    const before = (await ask<{ machines: Machine[] }>(0, 'GET', '/exports/machines')).body.machines.map(({ id }) => id);
    const one = await darkroomAlone();
    process.kill(one.pid, 'SIGSTOP');
    await soon(async () => {
      const { machines } = (await ask<{ machines: Machine[] }>(0, 'GET', '/exports/machines')).body;
      expect(machines.find(({ id }) => !before.includes(id))).toMatchObject({ silent: true, made: 0 });
    });
    process.kill(one.pid, 'SIGCONT');
    await ended(one);
  });

  it.each([
    ['no addresses', { BEXLEN_DATABASE: '', BEXLEN_STORE: '' }, 'Set BEXLEN_DATABASE and BEXLEN_STORE'],
    ['no bucket', { BEXLEN_STORE: 's3://studio?endpoint=http://127.0.0.1:9' }, 'at the endpoint in BEXLEN_STORE'],
    ['no database', { BEXLEN_DATABASE: 'postgres://nobody@127.0.0.1:9/studio' }, 'the address in BEXLEN_DATABASE'],
  ])('does not start with %s, and says what to do', async (_, more, says) => {
    await expect(darkroom(more as Record<string, string>)).rejects.toMatchObject({ hint: expect.stringContaining(says) as string });
  });
});
