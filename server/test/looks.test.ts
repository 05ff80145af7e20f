import { buffer } from 'node:stream/consumers';
import { emptyStack, newLayer, readLook, type Stack } from '@bexlen/core';
import type { ExportJob, KeptLook, LooksImported, Photo, PutVersions, Version } from '@bexlen/api';
import { readZip, writeZip } from '@bexlen/render/files/zips';
import { jpeg, serverForAll, upload } from './server';

const server = serverForAll(64e6);

async function ask<T>(method: string, path: string, body?: unknown): Promise<{ status: number; body: T & { code?: string; message?: string } }> {
  const raw = Buffer.isBuffer(body);
  const answer = await fetch(`${server.address}/api${path}`, {
    method,
    headers: body === undefined ? {} : { 'Content-Type': raw ? 'application/octet-stream' : 'application/json' },
    ...(body !== undefined && { body: raw ? new Uint8Array(body) : JSON.stringify(body) }),
  });
  const text = await answer.text();
  return { status: answer.status, body: text.startsWith('{') ? JSON.parse(text) : (text as never) };
}
const looks = async (): Promise<KeptLook[]> => (await ask<{ looks: KeptLook[] }>('GET', '/looks')).body.looks;
const look = (rest: object = {}): Buffer =>
  Buffer.from(JSON.stringify({ look: 3, name: 'Own', folder: 'Here', layers: [{ kind: 'tone', params: { contrast: 0.2 } }], ...rest }));
const add = (bytes: Buffer): Promise<{ status: number; body: LooksImported & { code?: string; message?: string } }> =>
  ask<LooksImported>('POST', '/looks', bytes);
const zipOf = (files: Record<string, Buffer | string>): Promise<Buffer> =>
  buffer(writeZip(Object.entries(files).map(([name, from]) => ({ name, from: Buffer.isBuffer(from) ? from : Buffer.from(from) }))));

describe('the lookbook', () => {
  it('has the looks that come with Bexlen, in six folders, each with a sentence and a rule', async () => {
    const ours = (await looks()).filter(({ own }) => !own).map(({ file }) => file as { folder: string; note: string; fit: unknown[] });
    expect(ours.length).toBe(40);
    expect(new Set(ours.map(({ folder }) => folder)).size).toBe(6);
    expect(ours.every(({ note, fit }) => note.length > 20 && fit.length > 0)).toBe(true);
  });

  it('keeps, changes, marks and throws away looks of one’s own; ours stay', async () => {
    const { status, body } = await add(look());
    expect(status).toBe(201);
    const [id] = body.added as [string];
    await ask('PATCH', `/looks/${id}`, { name: 'Renamed', folder: 'There', favourite: true });
    expect((await looks()).find((it) => it.id === id)).toMatchObject({ own: true, favourite: true, file: { name: 'Renamed', folder: 'There' } });
    expect((await ask('PATCH', '/looks/ours-amber-street', { favourite: true })).status).toBe(204);
    expect(await ask('PATCH', '/looks/ours-amber-street', { name: 'Mine' })).toMatchObject({ status: 400, body: { message: /comes with Bexlen/ } });
    expect((await ask('DELETE', '/looks/ours-amber-street')).status).toBe(400);
    expect((await ask('DELETE', `/looks/${id}`)).status).toBe(204);
    expect((await ask('DELETE', `/looks/${id}`)).status).toBe(404);
  });

  it('goes out as files and comes back as what it was', async () => {
    await add(look({ name: 'A: one/two' }));
    await add(look({ name: 'B', folder: 'Other' }));
    const zipped = await fetch(`${server.address}/api/looks/archive`).then(async (answer) => Buffer.from(await answer.arrayBuffer()));
    const files = await readZip(zipped, { entries: 10, entryBytes: 1e6, allBytes: 1e6 });
    expect([...files.keys()].sort()).toEqual(['Here/A one two.json', 'Other/B.json']);
    await add(Buffer.from(JSON.stringify({ look: 3, name: 'Loose', layers: [] })));
    const loose = await fetch(`${server.address}/api/looks/archive?folder=Mine`).then(async (answer) => Buffer.from(await answer.arrayBuffer()));
    expect([...(await readZip(loose, { entries: 10, entryBytes: 1e6, allBytes: 1e6 })).keys()]).toEqual(['Mine/Loose.json']);
    const before = (await looks()).filter(({ own }) => own).length;
    expect((await add(zipped)).body.added).toHaveLength(2);
    expect((await looks()).filter(({ own }) => own)).toHaveLength(before + 2);
    const one = (await looks()).find(({ own }) => own) as KeptLook;
    const text = await fetch(`${server.address}/api/looks/${one.id}/file`).then((answer) => answer.text());
    expect(readLook(text).faults).toEqual([]);
  });
});

describe('files of looks from strangers', () => {
  const count = async (): Promise<number> => (await looks()).length;
  it.each<[string, () => Buffer | Promise<Buffer>, RegExp]>([
    ['an unknown kind', () => look({ layers: [{ kind: 'sparkle' }] }), /no kind called “sparkle”/],
    ['a value out of range', () => look({ layers: [{ kind: 'tone', params: { contrast: 9 } }] }), /layers.0.params.contrast|At most 1/],
    [
      'a mask that is the same as itself',
      () => look({ layers: [{ kind: 'blur', mask: { parts: [{ id: 'a', part: 'same-as', params: { layer: 'layer-1' } }] } }] }),
      /circle/,
    ],
    ['a table that is not there', () => look({ layers: [{ kind: 'cube', params: { file: `${'a'.repeat(24)}:x.cube` } }] }), /x\.cube/],
    ['strokes that are not there', () => look({ layers: [{ kind: 'dodge-burn', params: { strokes: 'a'.repeat(32) } }] }), /painted with strokes/],
    [
      'a megabyte of nesting',
      () => Buffer.from(`{"look":3,"name":"x","layers":[{"kind":"tone","params":{"contrast":${'['.repeat(5e5)}${']'.repeat(5e5)}}}]}`),
      /JSON|number/i,
    ],
    ['a picture', () => jpeg(16, 16), /JSON/],
    [
      'an archive with one bad look among good ones',
      () => zipOf({ 'a.json': look(), 'b/c.json': look({ layers: [{ kind: 'sparkle' }] }) }),
      /sparkle/,
    ],
    ['an archive without looks', () => zipOf({ 'readme.txt': 'hello' }), /no look in this archive/],
  ])('%s: refused with a sentence, and nothing is taken in', async (_, make, why) => {
    const before = await count();
    const { status, body } = await add(await make());
    expect(status).toBe(422);
    expect(JSON.stringify(body)).toMatch(why);
    expect(await count()).toBe(before);
  });

  it('archives with paths that climb, of too many files, that unpack to too much, or cut off are refused', async () => {
    const before = await count();
    const climbing = Buffer.from((await zipOf({ 'xx/evil.json': look() })).toString('latin1').replaceAll('xx/evil.json', '../evil.json'), 'latin1');
    expect(await add(climbing)).toMatchObject({ status: 422, body: { message: /archive cannot be read/ } });
    const many = await zipOf(Object.fromEntries(Array.from({ length: 600 }, (__, i) => [`${i}.json`, '{}'])));
    expect(await add(many)).toMatchObject({ status: 422, body: { message: /600 files/ } });
    expect(await add(await zipOf({ 'bomb.json': Buffer.alloc(60e6) }))).toMatchObject({ status: 422, body: { message: /larger unpacked/ } });
    expect((await add((await zipOf({ 'a.json': look() })).subarray(0, 60))).status).toBe(422);
    expect(await count()).toBe(before);
  });
});

describe('a look that is put on photos', () => {
  const photos: Photo[] = [];
  beforeAll(async () => {
    for (const width of [60, 70, 80])
      photos.push((await upload(server.address, await jpeg(width, 50), `${width}.jpg`)).body['photo'] as unknown as Photo);
  });

  it('makes a version of each, over what is there, at a strength; it is taken back in one go', async () => {
    const [{ id }] = (await add(look({ name: 'Warm' }))).body.added.map((added) => ({ id: added })) as [{ id: string }];
    const order = { photos: photos.map((photo) => photo.id), where: 'over', strength: 0.5 };
    const { body } = await ask<PutVersions>('POST', `/looks/${id}/put`, order);
    expect(body.versions.map(({ photoId }) => photoId)).toEqual(order.photos);
    const made = (await ask<Version>('GET', `/versions/${body.versions[0]?.id}`)).body;
    expect(made).toMatchObject({ name: 'Warm', cursor: 1 });
    expect(made.steps.map(({ words }) => words)).toEqual(['As it was', 'Put on Warm, 50 %']);
    expect(made.steps[1]?.stack.layers).toMatchObject([{ kind: 'tone', strength: 0.5 }]);
    const stack: Stack = { ...emptyStack, layers: [newLayer('tone', 'a')] };
    await ask('PUT', `/versions/${body.versions[2]?.id}`, { replaces: 1, forget: 0, from: 2, steps: [{ words: 'More', stack }], cursor: 2 });
    const gone = await ask<{ kept: string[] }>('POST', '/versions/remove', { ids: body.versions.map((version) => version.id) });
    expect(gone.body.kept).toEqual([body.versions[2]?.id]);
    expect((await ask('GET', `/versions/${body.versions[0]?.id}`)).status).toBe(404);
  });

  it('is put on all of them or on none', async () => {
    const before = (await ask<Photo>('GET', `/photos/${photos[0]?.id}`)).body.versions.length;
    const order = { photos: [photos[0]?.id, 'not-there'], where: 'over', strength: 1 };
    expect((await ask('POST', '/looks/ours-amber-street/put', order)).status).toBe(404);
    expect((await ask<Photo>('GET', `/photos/${photos[0]?.id}`)).body.versions).toHaveLength(before);
  });

  it('gives a colour table that says what it leaves out', async () => {
    const table = await fetch(`${server.address}/api/looks/ours-amber-street/table?size=17`).then((answer) => answer.text());
    expect(table).toMatch(/^# Not in this table: Halation, since it looks at what is around a place/);
    expect(table).toMatch(/LUT_3D_SIZE 17/);
    expect((await ask('GET', '/looks/ours-amber-street/table?size=18')).status).toBe(400);
  });

  it('is laid out on a contact sheet', async () => {
    const cells = photos.map((photo) => ({ photoId: photo.id, stack: emptyStack, name: photo.name, line: 'as it came' }));
    const { status, body } = await ask<ExportJob>('POST', '/exports/sheet', { title: 'Three', page: 'a4', upright: true, columns: 2, cells });
    expect(status).toBe(201);
    expect(body).toMatchObject({ format: 'pdf', versionId: null, fileName: 'Three.pdf' });
    expect((await ask('POST', '/exports/sheet', { title: 'x', page: 'a3', upright: true, columns: 2, cells })).status).toBe(400);
  });
});
