import fs from 'node:fs/promises';
import http from 'node:http';
import { emptyStack, newLayer, type Stack } from '@bexlen/core';
import type { ExportJob, Photo, Version } from '@bexlen/api';
import { takeFolder } from '../src/folder';
import sharp from 'sharp';
import { order } from './asking';
import { filesIn, inFolderOnly, jpeg, newFolder, startServer, upload, type Running } from './server';

let folder: string;
let server: Running;
let photo: Photo;
beforeAll(async () => {
  folder = await newFolder();
  server = await startServer(folder);
  photo = (await upload(server.address, await jpeg(), 'slope.jpg')).body['photo'] as unknown as Photo;
});
afterAll(async () => {
  await server.close();
  await fs.rm(folder, { recursive: true });
});

async function ask<T = Record<string, never>>(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<{ status: number; body: T & { code?: string; message?: string } }> {
  const answer = await fetch(`${server.address}/api${path}`, {
    method,
    headers: { ...(body !== undefined && { 'Content-Type': 'application/json' }), ...headers },
    ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
  });
  const text = await answer.text();
  return { status: answer.status, body: text ? JSON.parse(text) : {} };
}

const versionId = (): string => photo.versions[0]?.id as string;
const toned = (brightness: number): Stack => ({ ...emptyStack, layers: [{ ...newLayer('tone', 'a'), params: { brightness, contrast: 0 } }] });
const change = (replaces: number, stack: unknown, from = 1) => ({ replaces, forget: 0, from, steps: [{ words: 'A step', stack }], cursor: from });

describe('a version', () => {
  it('keeps its steps, cursor and revision', async () => {
    expect(await ask('PUT', `/versions/${versionId()}`, change(1, toned(0.1)))).toMatchObject({ status: 200, body: { revision: 2 } });
    expect(await ask('PUT', `/versions/${versionId()}`, { replaces: 2, forget: 0, from: 2, steps: [], cursor: 0 })).toMatchObject({
      body: { revision: 3 },
    });
    const { body } = await ask<Version>('GET', `/versions/${versionId()}`);
    expect(body).toMatchObject({ revision: 3, cursor: 0 });
    expect(body.steps.map(({ words }) => words)).toEqual(['As it came', 'A step']);
  });

  it('is not overwritten by a change of an older revision', async () => {
    expect(await ask('PUT', `/versions/${versionId()}`, change(1, toned(0.9)))).toMatchObject({ status: 409, body: { code: 'conflict' } });
    expect((await ask<Version>('GET', `/versions/${versionId()}`)).body.revision).toBe(3);
  });

  it('forgets its oldest steps when told to', async () => {
    const { body: copy } = await ask<Version>('POST', `/photos/${photo.id}/versions`, {
      name: 'Long',
      steps: [1, 2, 3].map((n) => ({ words: `${n}`, stack: toned(n / 10) })),
      cursor: 2,
    });
    await ask('PUT', `/versions/${copy.id}`, { replaces: 1, forget: 2, from: 3, steps: [{ words: '4', stack: toned(0.4) }], cursor: 1 });
    expect((await ask<Version>('GET', `/versions/${copy.id}`)).body.steps.map(({ words }) => words)).toEqual(['3', '4']);
  });
});

describe('a version that cannot be taken', () => {
  const layer = newLayer('tone', 'a');
  const nested = (depth: number): unknown =>
    depth === 0 ? layer : { ...layer, id: `g${depth}`, kind: 'group', params: undefined, layers: [nested(depth - 1)] };
  const cases: [string, unknown, RegExp][] = [
    ['an unknown kind', { ...emptyStack, layers: [{ ...layer, kind: 'magic' }] }, /no kind called “magic”/],
    ['a value out of range', { ...emptyStack, layers: [{ ...layer, params: { brightness: 7, contrast: 0 } }] }, /layers\.0\.params\.brightness/],
    ['a value that is no number', { ...emptyStack, layers: [{ ...layer, strength: null }] }, /layers\.0\.strength/],
    ['an unknown field', { ...emptyStack, layers: [{ ...layer, glitter: 1 }] }, /glitter/],
    ['a schema of the future', { ...emptyStack, schema: 9 }, /schema/],
    ['10,000 layers', { ...emptyStack, layers: Array.from({ length: 10000 }, (_, i) => ({ ...layer, id: `l${i}` })) }, /at most 200 layers/],
    ['groups 100 deep', { ...emptyStack, layers: [nested(100)] }, /more than 8 deep/],
    ['two layers with one id', { ...emptyStack, layers: [layer, layer] }, /Two layers/],
  ];
  it.each(cases)('%s is refused with its place, and changes nothing', async (_name, stack, words) => {
    const before = (await ask<Version>('GET', `/versions/${versionId()}`)).body;
    const answer = await ask('PUT', `/versions/${versionId()}`, change(before.revision, stack));
    expect(answer.status).toBe(422);
    expect(answer.body.message).toMatch(words);
    expect((await ask('GET', `/versions/${versionId()}`)).body).toEqual(before);
  });

  it('a number that JSON does not know is refused', async () => {
    const text = JSON.stringify(change(1, toned(0.1))).replace('0.1', 'NaN');
    expect(await ask('PUT', `/versions/${versionId()}`, text)).toMatchObject({ status: 400, body: { code: 'bad-request' } });
    const huge = JSON.stringify(change(1, toned(0.1))).replace('0.1', '1e999');
    expect((await ask('PUT', `/versions/${versionId()}`, huge)).status).toBe(422);
  });
});

describe('the door', () => {
  it('answers unknown things, wrong methods and bad words with a fault', async () => {
    expect(await ask('GET', '/photos/nobody')).toMatchObject({ status: 404, body: { code: 'not-found' } });
    expect(await ask('GET', '/versions/nobody')).toMatchObject({ status: 404 });
    expect(await ask('GET', '/nothing/here')).toMatchObject({ status: 404 });
    expect(await ask('DELETE', '/photos')).toMatchObject({ status: 405, body: { code: 'method' } });
    expect(await ask('GET', `/photos/${photo.id}/pixels?edge=77`)).toMatchObject({ status: 400 });
    expect(await order(ask, { versionId: versionId(), format: 'gif' })).toMatchObject({ status: 400 });
  });

  it('turns away foreign origins and names', async () => {
    expect(await ask('GET', '/photos', undefined, { Origin: 'http://elsewhere.example' })).toMatchObject({
      status: 403,
      body: { code: 'foreign-origin' },
    });
    const status = await new Promise((resolve) => {
      const { port } = new URL(server.address);
      http.get(
        { host: '127.0.0.1', port, path: '/api/photos', headers: { Host: 'elsewhere.example' } },
        (answer) => (answer.resume(), resolve(answer.statusCode)),
      );
    });
    expect(status).toBe(421);
  });

  it('isolates the page and lets nothing in from outside', async () => {
    const { headers } = await fetch(server.address);
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
    expect(headers.get('content-security-policy')).toContain("default-src 'none'");
    expect(headers.get('content-security-policy')).not.toContain('unsafe-inline');
  });

  it('gives a data folder to one process only', async () => {
    await expect(takeFolder(`${folder}/data`)).rejects.toMatchObject({ code: 'folder-in-use' });
  }, 20000);
});

describe('a small picture of a version', () => {
  const grey: Stack = { ...emptyStack, layers: [newLayer('mono-mix', 'm')] };
  const get = async (path: string): Promise<{ status: number; caching: string | null; image: Buffer }> => {
    const answer = await fetch(`${server.address}/api${path}`);
    return { status: answer.status, caching: answer.headers.get('cache-control'), image: Buffer.from(await answer.arrayBuffer()) };
  };
  const spread = async (image: Buffer): Promise<number> => {
    const { data } = await sharp(image).raw().toBuffer({ resolveWithObject: true });
    let most = 0;
    for (let i = 0; i < data.length; i += 3) most = Math.max(most, Math.abs((data[i] as number) - (data[i + 2] as number)));
    return most;
  };
  const made = async (name: string, stack: Stack): Promise<Version> =>
    (await ask<Version>('POST', `/photos/${photo.id}/versions`, { name, steps: [{ words: 'x', stack }], cursor: 0 })).body;

  it('shows the treatment, and the photo where there is none', async () => {
    const version = await made('Grey', grey);
    const { status, caching, image } = await get(`/versions/${version.id}/thumb?revision=${version.revision}`);
    expect({ status, caching }).toEqual({ status: 200, caching: 'private, max-age=31536000, immutable' });
    expect(await spread(image)).toBeLessThan(3);
    const plain = await get(`/versions/${(await made('Plain', emptyStack)).id}/thumb`);
    expect(await spread(plain.image)).toBeGreaterThan(20);
    expect(plain.caching).toBe('no-store');
  });

  it('follows its changes and its crop, and keeps no picture of what it was', async () => {
    const version = await made('Follows', grey);
    const pictures = async (): Promise<string[]> => (await filesIn(folder)).filter((file) => file.includes(`version-${version.id}`));
    await get(`/versions/${version.id}/thumb`);
    expect(await pictures()).toHaveLength(1);
    const cropped: Stack = { ...toned(0.2), geometry: { ...emptyStack.geometry, crop: { x: 0, y: 0, width: 0.5, height: 1 } } };
    await ask('PUT', `/versions/${version.id}`, change(version.revision, cropped));
    const { body } = await ask<Photo>('GET', `/photos/${photo.id}`);
    expect(body.versions.find(({ id }) => id === version.id)).toMatchObject({ revision: version.revision + 1, width: 160, height: 200 });
    const all = await Promise.all(Array.from({ length: 4 }, () => get(`/versions/${version.id}/thumb`)));
    expect(new Set(all.map(({ image }) => image.toString('base64'))).size).toBe(1);
    expect(await sharp(all[0]?.image).metadata()).toMatchObject({ width: 160, height: 200 });
    expect(await pictures()).toHaveLength(1);
  });

  it('is refused for a version that is not there', async () => {
    expect((await get('/versions/nobody/thumb')).status).toBe(404);
  });
});

describe('an export', () => {
  const done = async (id: string): Promise<ExportJob> => {
    for (let i = 0; i < 200; i++) {
      const job = (await ask<{ exports: ExportJob[] }>('GET', '/exports')).body.exports.find((it) => it.id === id);
      if (job && !['waiting', 'working'].includes(job.state)) return job;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    throw new Error('the export did not end');
  };

  it('makes a file with a profile, lists it and removes it', async () => {
    const { body: copy } = await ask<Version>('POST', `/photos/${photo.id}/versions`, {
      name: 'Bright',
      steps: [{ words: 'x', stack: toned(0.2) }],
      cursor: 0,
    });
    for (const wish of [
      { format: 'jpeg', quality: 90 },
      { format: 'png', depth: 16 },
    ]) {
      const { body, status } = await order(ask, { versionId: copy.id, ...wish });
      expect(status).toBe(201);
      const job = await done(body.id);
      expect(job).toMatchObject({ state: 'done', width: 320, height: 200 });
      const file = Buffer.from(await (await fetch(`${server.address}/api/exports/${job.id}/file`)).arrayBuffer());
      expect(file.length).toBe(job.bytes);
      const meta = await sharp(file).metadata();
      expect(meta).toMatchObject({ width: 320, height: 200, format: wish.format, depth: wish.format === 'png' ? 'ushort' : 'uchar' });
      expect(meta.icc?.length).toBeGreaterThan(100);
      const thumb = await fetch(`${server.address}/api/exports/${job.id}/thumb`);
      expect(await sharp(Buffer.from(await thumb.arrayBuffer())).metadata()).toMatchObject({ format: 'jpeg', width: 256, height: 160 });
      expect((await ask('DELETE', `/exports/${job.id}`)).status).toBe(204);
    }
    expect((await filesIn(folder)).filter((file) => file.includes('/exports/') || file.includes('export-thumb'))).toEqual([]);
  });

  inFolderOnly('says what is wrong when its original is gone, and leaves no half file', async () => {
    const other = (await upload(server.address, await jpeg(64, 64), 'gone.jpg')).body['photo'] as unknown as Photo;
    const file = (await filesIn(folder)).filter((name) => name.includes('/originals/')).at(-1) as string;
    const names = (await filesIn(folder)).filter((name) => name.includes('/originals/'));
    expect(names).toContain(file);
    const newest = (await Promise.all(names.map(async (name) => ({ name, at: (await fs.stat(name)).mtimeMs })))).sort((a, b) => b.at - a.at)[0]
      ?.name as string;
    await fs.rename(newest, `${newest}.away`);
    const { body } = await order(ask, { versionId: other.versions[0]?.id, format: 'jpeg', quality: 80 });
    expect(await done(body.id)).toMatchObject({ state: 'failed', fault: { code: 'not-found' } });
    await fs.rename(`${newest}.away`, newest);
    await ask('POST', `/exports/${body.id}/again`);
    expect(await done(body.id)).toMatchObject({ state: 'done' });
    expect((await filesIn(folder)).filter((name) => name.includes('unfinished'))).toEqual([]);
  });
});

it('has everything after a stop and a start', async () => {
  const before = (await ask('GET', '/photos')).body;
  await server.close();
  server = await startServer(folder);
  expect((await ask('GET', '/photos')).body).toEqual(before);
});
