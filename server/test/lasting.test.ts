import fs from 'node:fs/promises';
import http from 'node:http';
import path from 'node:path';
import sharp from 'sharp';
import { emptyMask, emptyStack, nameOf, newLayer, newPart, type Painted } from '@bexlen/core';
import type { ExportJob, Orphan, Photo, Version } from '@bexlen/api';
import { openDb } from '../src/store/db';
import { writeZip } from '@bexlen/render/files/zips';
import { asking, order } from './asking';
import { databaseOf, filesIn, inFolderOnly, jpeg, newFolder, startAlone, startServer, upload, type Running } from './server';

const root = path.join(import.meta.dirname, '../..');
let folder = '';
let server: Running;
beforeAll(async () => {
  folder = await newFolder();
  server = await startServer(folder, 64e6);
});
afterAll(async () => {
  await server.close();
  await fs.rm(folder, { recursive: true });
});
const { ask, finished } = asking(() => server.address);
const photoOf = async (bytes: Buffer, name: string): Promise<Photo> => (await upload(server.address, bytes, name)).body['photo'] as unknown as Photo;
const photos = async (): Promise<Photo[]> => (await ask<{ photos: Photo[] }>('GET', '/photos')).body.photos;
const inData = (...parts: string[]): string => path.join(folder, 'data', ...parts);
const originals = async (): Promise<string[]> => filesIn(inData('originals'));

/** Whether others are answered while something goes on, one after another: who is held up until it is over hears nothing before. */
async function othersAreAnswered(during: Promise<unknown>): Promise<boolean> {
  let [on, answers] = [true, 0];
  during.finally(() => (on = false)).catch(() => undefined);
  while (on && answers < 3) {
    await (await fetch(`${server.address}/api/rolls`)).text();
    if (on) answers++;
  }
  return answers === 3;
}

describe('an original', () => {
  inFolderOnly('that is lost or empty is told of, and comes back when the same file is imported', async () => {
    const bytes = await jpeg(330, 210);
    const { id } = await photoOf(bytes, 'lost.jpg');
    const [file] = await originals();
    for (const spoil of [() => fs.rm(file as string), () => fs.writeFile(file as string, '')]) {
      await spoil();
      expect((await photos()).find((photo) => photo.id === id)?.missing).toBe(true);
      const pixels = await ask('GET', `/photos/${id}/pixels?x=0&y=0&w=20&h=20&edge=20`);
      expect([pixels.status, pixels.body.message]).toEqual([404, 'The original of “lost” is missing.']);
      const again = await upload(server.address, bytes, 'lost.jpg');
      expect(again).toMatchObject({ status: 200, body: { known: true, notes: ['The original of “lost” was missing and is back.'] } });
      expect((await photos()).find((photo) => photo.id === id)?.missing).toBe(false);
      expect(await fs.readFile(file as string)).toEqual(bytes);
    }
  });

  inFolderOnly('that no photo names is set aside at the next start, and goes back to the shelf when somebody wants it', async () => {
    const bytes = await jpeg(331, 210);
    const { id } = await photoOf(bytes, 'orphan.jpg');
    await server.close();
    const db = await openDb(await databaseOf(inData('')), path.join(root, 'server/src/store/migrations'));
    await db.query('DELETE FROM photos WHERE id = $1', [id]);
    await db.close();
    server = await startServer(folder, 64e6);
    const { orphans } = (await ask<{ orphans: Orphan[] }>('GET', '/orphans')).body;
    expect(orphans).toMatchObject([{ bytes: bytes.length }]);
    const taken = await ask<{ photo: Photo }>('POST', `/orphans/${orphans[0]?.id}/take`);
    expect([taken.status, taken.body.photo.width]).toEqual([201, 331]);
    expect((await ask<{ orphans: Orphan[] }>('GET', '/orphans')).body.orphans).toEqual([]);
  });
});

it('what was answered is there after the process was killed', async () => {
  await server.close();
  const alone = await startAlone(folder, 64e6);
  server = alone;
  const photo = await photoOf(await jpeg(200, 100), 'kill.jpg');
  const [version] = photo.versions;
  const steps = [{ words: 'Changed', stack: { ...emptyStack, layers: [newLayer('tone', 'a')] } }];
  const change = { replaces: 1, forget: 0, from: 1, steps, cursor: 1, strokes: [] };
  expect((await ask('PUT', `/versions/${version?.id}`, change)).status).toBe(200);
  await alone.kill();
  server = await startServer(folder, 64e6);
  expect((await ask<Version>('GET', `/versions/${version?.id}`)).body.steps).toHaveLength(2);
  expect((await photos()).some(({ missing }) => missing)).toBe(false);
});

inFolderOnly('nobody else on the machine may look into the data folder', async () => {
  expect((await fs.stat(inData())).mode & 0o777).toBe(0o700);
  for (const file of [...(await originals()), inData('database/PG_VERSION'), inData('database/global/pg_control')])
    expect([file, (await fs.stat(file)).mode & 0o077]).toEqual([file, 0]);
});

/** A picture with a chunk of some bytes put in behind its header, as RIFF has it. */
async function webpWith(name: string, chunk: Buffer): Promise<Buffer> {
  const plain = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#876' } })
    .webp()
    .withExif({ IFD0: { Artist: 'x' } })
    .toBuffer();
  const head = Buffer.alloc(8);
  head.write(name, 0, 'latin1');
  head.writeUInt32LE(chunk.length, 4);
  const flags = plain.indexOf('VP8X');
  plain[flags + 8] = (plain[flags + 8] as number) | 4;
  const whole = Buffer.concat([plain, head, chunk, Buffer.alloc(chunk.length % 2)]);
  whole.writeUInt32LE(whole.length - 8, 4);
  return whole;
}

describe('metadata of strangers', () => {
  it('of 5 MB of XMP is left out, which the file says; others are answered meanwhile', async () => {
    const xmp = Buffer.from(`<x:xmpmeta xmlns:x="adobe:ns:meta/">${'<a b="c"/>'.repeat(5e5)}</x:xmpmeta>`);
    const photo = await photoOf(await webpWith('XMP ', xmp), 'talkative.webp');
    const begun = await order(ask, { versionId: photo.versions[0]?.id, format: 'jpeg', metadata: 'keep' });
    const making = finished(begun.body);
    expect(await othersAreAnswered(making)).toBe(true);
    const { job } = await making;
    expect(job.notes).toEqual(['XMP of the original was left out: it is longer than 4 MB.']);
  });

  it('with a count that lies is left out, and takes no time', async () => {
    const exif = Buffer.alloc(31_000);
    exif.write('II*\0', 0, 'latin1');
    exif.writeUInt32LE(8, 4);
    exif.writeUInt16LE(1, 8);
    exif.writeUInt16LE(0x010e, 10);
    exif.writeUInt16LE(5, 12);
    exif.writeUInt32LE(0x0fffffff, 14);
    exif.writeUInt32LE(26, 18);
    const body = Buffer.concat([Buffer.from('Exif\0\0', 'latin1'), exif]);
    const plain = await jpeg(120, 80);
    const size = Buffer.from([0xff, 0xe1, (body.length + 2) >> 8, (body.length + 2) & 255]);
    const photo = await photoOf(Buffer.concat([plain.subarray(0, 2), size, body, plain.subarray(2)]), 'liar.jpg');
    const begun = await order(ask, { versionId: photo.versions[0]?.id, format: 'jpeg', metadata: 'keep' });
    expect((await finished(begun.body)).job.notes).toEqual(['EXIF of the original was left out: it cannot be read.']);
  });
});

describe('layers of strangers', () => {
  const ora = async (xml: string, more: Record<string, Buffer> = {}): Promise<Buffer> => {
    const files = { mimetype: Buffer.from('image/openraster'), 'stack.xml': Buffer.from(xml), ...more };
    const parts: Buffer[] = [];
    for await (const part of writeZip(Object.entries(files).map(([name, from]) => ({ name, from })))) parts.push(part as Buffer);
    return Buffer.concat(parts);
  };

  it.each([
    ['a list of 2 MB', `<image w="6" h="4"><stack>${'<layer/>'.repeat(2.6e5)}</stack></image>`, /longer than 1 MB/],
    ['a thousand layers', `<image w="6" h="4"><stack>${'<layer src="a.png"/>'.repeat(1000)}</stack></image>`, /more than 200 layers/],
    ['a canvas of four gigapixels', '<image w="65000" h="65000"><stack/></image>', /limit is 200 megapixels/],
  ])('with %s are refused at once, and nobody waits', async (_, xml, why) => {
    const sending = upload(server.address, await ora(xml, { 'a.png': Buffer.from('x') }), 'bomb.ora');
    expect(await othersAreAnswered(sending)).toBe(true);
    const { status, body } = await sending;
    expect(status).toBe(422);
    expect(body.message).toMatch(why);
  });
});

inFolderOnly('an archive whose file goes while it is fetched breaks off, and the server goes on', async () => {
  const photo = await photoOf(await jpeg(900, 700), 'archive.jpg');
  const wish = { versionId: photo.versions[0]?.id, format: 'png' };
  const jobs: ExportJob[] = [];
  for (let i = 0; i < 3; i++) jobs.push((await finished((await order(ask, wish)).body)).job);
  const ids = jobs.map(({ id }) => id).join(',');
  const last = inData('exports', (await fs.readdir(inData('exports'))).find((name) => name.startsWith(jobs[2]?.id ?? '?')) ?? '?');
  await new Promise<void>((resolve) => {
    const request = http.get(`${server.address}/api/exports/archive?ids=${ids}`, (answer) => {
      answer.once('data', () => {
        answer.pause();
        // A file of another length than the archive said: its end is missing.
        fs.truncate(last, 10).then(
          () => answer.resume(),
          () => answer.resume(),
        );
      });
      answer.on('close', resolve);
      answer.on('error', () => resolve());
    });
    request.on('error', () => resolve());
  });
  await fs.rm(last, { force: true });
  expect((await fetch(`${server.address}/api/exports/${jobs[2]?.id}/thumb`)).status).toBe(404);
  for (const where of [`archive?ids=${jobs[2]?.id}`, `${jobs[2]?.id}/file`])
    expect(await (await fetch(`${server.address}/api/exports/${where}`)).json()).toMatchObject({ message: 'The file of this export is gone.' });
  expect((await fetch(`${server.address}/api/exports/archive?ids=${jobs[0]?.id}`)).status).toBe(200);
});

inFolderOnly('an export during which the server was killed twice is set aside, and goes on when somebody wants it', async () => {
  const photo = await photoOf(await jpeg(320, 200), 'twice.jpg');
  const { job } = await finished((await order(ask, { versionId: photo.versions[0]?.id, format: 'jpeg' })).body);
  const working = async (): Promise<void> => {
    await server.close();
    const db = await openDb(await databaseOf(inData('')), path.join(root, 'server/src/store/migrations'));
    await db.query("UPDATE exports SET state = 'working' WHERE id = $1", [job.id]);
    await db.query('UPDATE exports SET interrupted = interrupted + 1 WHERE id = $1', [job.id]);
    await db.close();
    server = await startServer(folder, 64e6);
  };
  await working();
  const now = (await ask<{ exports: ExportJob[] }>('GET', '/exports')).body.exports.find(({ id }) => id === job.id);
  expect(now).toMatchObject({ state: 'failed', fault: { message: 'The server ended twice while this file was being made.' } });
  await ask('POST', `/exports/${job.id}/again`);
  expect((await finished(job)).job.state).toBe('done');
});

describe('strokes', () => {
  const stroke = (i: number, points: number): Painted['stroke'] => ({
    size: 0.2,
    softness: 0.5,
    flow: 0.5,
    erase: false,
    pressure: 'none',
    trace: Array.from({ length: 4 * points }, (_, k) => (k % 4 < 2 ? ((i + k) % 7) - 3 : k % 4 === 2 && k < 4 ? 100 : 0)),
  });
  const chain = (count: number, points: number, begin = ''): Painted[] => {
    const all: Painted[] = [];
    for (let i = 0; i < count; i++) all.push({ after: i === 0 ? begin : nameOf(all[i - 1] as Painted), stroke: stroke(i, points) });
    return all;
  };
  const send = (photo: Photo, strokes: readonly Painted[]): Promise<{ status: number; body: { message?: string } }> => {
    const part = { ...newPart('brush', 'p'), params: { ...newPart('brush', 'p').params, strokes: nameOf(strokes.at(-1) as Painted) } };
    const layers = [{ ...newLayer('exposure', 'a'), mask: { ...emptyMask, parts: [part] } }];
    const version = { name: 'Painted', steps: [{ words: 'x', stack: { ...emptyStack, layers } }], cursor: 0, strokes };
    return ask('POST', `/photos/${photo.id}/versions`, version);
  };

  it('of more than a million points are refused when they come', async () => {
    const photo = await photoOf(await jpeg(320, 201), 'much.jpg');
    const first = chain(1, 19_000);
    expect((await send(photo, first)).status).toBe(201);
    const more = chain(52, 19_000, nameOf(first.at(-1) as Painted));
    const refused = await send(photo, more);
    expect(refused.status).toBe(413);
    expect(refused.body.message).toMatch(/1000000 points/);
  });

  it('of several thousand at once hold nobody up', async () => {
    const photo = await photoOf(await jpeg(320, 202), 'many.jpg');
    const sending = send(photo, chain(2500, 40));
    expect(await othersAreAnswered(sending)).toBe(true);
    expect((await sending).status).toBe(201);
  });
});

describe('requests', () => {
  it.each([
    ['POST', '/exports', { versionIds: ['a\0b'], wish: { format: 'jpeg' } }],
    ['POST', '/exports/layers', { versionId: 'a\0b' }],
    ['POST', '/rolls', { name: 'x', photos: ['\ud800'] }],
    ['POST', '/rolls/move', { photos: ['a\0'], rollId: null }],
    ['POST', '/versions/remove', { ids: ['a\0'] }],
    ['POST', '/presets', { name: 'a\0', wish: { format: 'jpeg' } }],
  ])('with what cannot be kept are refused: %s %s', async (method, where, body) => {
    expect((await ask(method, where, body)).status).toBe(400);
  });

  it('never take away the only version of a photo', async () => {
    const photo = await photoOf(await jpeg(320, 203), 'only.jpg');
    const ids = photo.versions.map(({ id }) => id);
    expect((await ask<{ kept: string[] }>('POST', '/versions/remove', { ids })).body).toEqual({ kept: ids });
  });

  it('take a look file with a byte order mark', async () => {
    const look = { look: 3, name: 'Marked', layers: [{ kind: 'tone', params: { contrast: 0.2 } }] };
    const answer = await fetch(`${server.address}/api/looks`, { method: 'POST', body: `\ufeff${JSON.stringify(look)}` });
    expect(answer.status).toBe(201);
  });

  it('are answered with lists that no cache keeps', async () => {
    for (const where of ['/photos', '/exports', '/looks', '/rolls'])
      expect((await fetch(`${server.address}/api${where}`)).headers.get('cache-control')).toBe('private, no-store');
  });

  it('for an upload reach the one that was looked at, whatever stands behind it', async () => {
    const tus = { 'Tus-Resumable': '1.0.0' };
    const begin = async (): Promise<string> =>
      String((await fetch(`${server.address}/api/uploads`, { method: 'POST', headers: { ...tus, 'Upload-Length': '10' } })).headers.get('location'));
    const [own, other] = [await begin(), await begin()];
    await fetch(`${server.address}${own}?/${other.split('/').pop()}`, { method: 'DELETE', headers: tus });
    expect((await fetch(`${server.address}${other}`, { method: 'HEAD', headers: tus })).status).toBe(200);
    const gone = await fetch(`${server.address}${own}`, { method: 'PATCH', headers: { ...tus, 'Upload-Offset': '0', 'Content-Type': 'text/plain' } });
    expect([gone.headers.get('content-type'), gone.headers.get('access-control-allow-origin')]).toEqual([
      expect.stringMatching(/^application\/json/),
      null,
    ]);
  });
});

it('a half-transparent photo lies on white in a JPEG unless something else is chosen, and the file says so', async () => {
  const half = await sharp({ create: { width: 60, height: 40, channels: 4, background: { r: 200, g: 0, b: 0, alpha: 0.5 } } })
    .png()
    .toBuffer();
  const photo = await photoOf(half, 'half.png');
  const make = async (more: object): Promise<{ job: ExportJob; pixel: number[] }> => {
    const begun = await order(ask, { versionId: photo.versions[0]?.id, format: 'jpeg', quality: 100, ...more });
    const { job, bytes } = await finished(begun.body);
    return { job, pixel: [...(await sharp(bytes).raw().toBuffer()).subarray(0, 3)] };
  };
  const white = await make({});
  expect(white.job.notes).toEqual(['JPEG holds no transparency: what is see-through lies on white.']);
  const near = (pixel: number[], wanted: number[]): void => pixel.forEach((v, i) => expect(Math.abs(v - (wanted[i] as number))).toBeLessThan(6));
  near(white.pixel, [227, 127, 127]);
  near((await make({ ground: 'black' })).pixel, [100, 0, 0]);
});

it('a packed bomb of pictures is told by what it claims, before it is unpacked', async () => {
  const parts: Buffer[] = [];
  for await (const part of writeZip([
    { name: 'mimetype', from: Buffer.from('image/openraster'), stored: true },
    { name: 'stack.xml', from: Buffer.from('<image w="6" h="4"><stack><layer src="a.png"/></stack></image>') },
    { name: 'a.png', from: Buffer.alloc(210e6) },
  ]))
    parts.push(part as Buffer);
  const { status, body } = await upload(server.address, Buffer.concat(parts), 'bomb.ora');
  expect([status, body.message]).toEqual([422, expect.stringMatching(/larger unpacked than is read/)]);
}, 60_000);
