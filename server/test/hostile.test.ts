import { spawn } from 'node:child_process';
import fs from 'node:fs/promises';
import http from 'node:http';
import path from 'node:path';
import sharp from 'sharp';
import { emptyStack, newLayer } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { Decoders } from '../src/decoders/decoders';
import { filesIn, jpeg, newFolder, png, serverForAll, slope, soon, startAlone, upload } from './server';

const server = serverForAll(20e6);
const root = path.join(import.meta.dirname, '../..');

interface Raw {
  readonly status: number;
  readonly headers: http.IncomingHttpHeaders;
  readonly text: string;
}

/** A request as it stands, which a polite client would not send. */
function raw(method: string, where: string, headers: http.OutgoingHttpHeaders = {}, body?: string | Buffer): Promise<Raw> {
  return new Promise((resolve, reject) => {
    const request = http.request(server.address, { method, path: where, headers }, (answer) => {
      const parts: Buffer[] = [];
      answer.on('data', (part: Buffer) => parts.push(part));
      answer.on('end', () => resolve({ status: answer.statusCode ?? 0, headers: answer.headers, text: Buffer.concat(parts).toString() }));
    });
    request.on('error', reject);
    request.end(body);
  });
}
const json = { 'Content-Type': 'application/json' };

/** A refusal with a sentence and a hint, in JSON, that no cache keeps. */
function expectRefusal({ status, headers, text }: Raw, wanted: number, words: RegExp = /./): void {
  expect({ wanted, status, text: text.slice(0, 300) }).toMatchObject({ status: wanted });
  expect(headers['content-type']).toMatch(/^application\/json/);
  expect(headers['cache-control']).toBe('no-store');
  const fault = JSON.parse(text) as { code: string; message: string; hint: string };
  expect(fault.code).not.toBe('internal');
  expect(fault.message).toMatch(words);
  expect(fault.hint).toMatch(/\.$/);
}

let photo: Photo;
beforeAll(async () => {
  photo = (await upload(server.address, await jpeg(200, 120), 'first.jpg')).body['photo'] as unknown as Photo;
});
const list = async (): Promise<Photo[]> => ((await (await fetch(`${server.address}/api/photos`)).json()) as { photos: Photo[] }).photos;

describe('names', () => {
  it.each(['   .jpg', '\u3000\u3000.jpg', '\ufeff.jpg', '\u2028.jpg', '\u202e\u2066.jpg'])(
    'of files that are only space become a name that can be kept: %j',
    async (name) => {
      const { status, body } = await upload(server.address, await jpeg(40 + (name.charCodeAt(0) % 1000), 30 + name.length), name);
      expect(status).toBe(201);
      expect(body['photo']).toMatchObject({ name: 'Photo' });
      expect((await list()).every(({ name: kept }) => kept.trim() !== '')).toBe(true);
    },
  );

  it('of files lose what cannot be seen, and leave nothing behind where they are strange', async () => {
    const { status, body } = await upload(server.address, await jpeg(91, 33), 'a\0b\x7fc.jpg');
    expect([status, (body['photo'] as unknown as Photo).name]).toEqual([201, 'a b c']);
    const names = new Set((await list()).map(({ name }) => name));
    expect(names).toContain('a b c');
    expect((await filesIn(server.folder)).filter((file) => file.includes(`${path.sep}originals${path.sep}`))).toHaveLength((await list()).length);
  });

  it.each([
    ['a photo', 'PATCH', () => `/api/photos/${photo.id}`, { name: 'a\0b' }],
    ['a photo, half a character', 'PATCH', () => `/api/photos/${photo.id}`, { name: 'a\ud800' }],
    ['a caption', 'PATCH', () => `/api/photos/${photo.id}`, { caption: 'a\0b' }],
    ['a version', 'PATCH', () => `/api/versions/${photo.versions[0]?.id}`, { name: '\ud800' }],
    ['a step', 'POST', () => `/api/photos/${photo.id}/versions`, { name: 'x', cursor: 0, steps: [{ words: '\0', stack: emptyStack }] }],
    [
      'a layer',
      'POST',
      () => `/api/photos/${photo.id}/versions`,
      { name: 'x', cursor: 0, steps: [{ words: 'x', stack: { ...emptyStack, layers: [{ ...newLayer('tone', 'a'), name: 'a\0' }] } }] },
    ],
  ] as [string, string, () => string, unknown][])('with characters that cannot be kept are refused: %s', async (_, method, where, body) => {
    const answer = await raw(method, where(), json, JSON.stringify(body));
    expectRefusal(answer, JSON.parse(answer.text).code === 'bad-version' ? 422 : 400, /characters that cannot be kept/);
  });
});

describe('a refusal', () => {
  it.each([
    '/api/photos/nobody/thumb',
    '/api/photos/nobody/pixels?edge=256',
    '/api/cubes/nobody',
    '/api/versions/nobody/thumb',
    '/api/exports/nobody/file',
    '/api/exports/nobody/thumb',
  ])('is JSON and is not kept by a browser: %s', async (where) => expectRefusal(await raw('GET', where), 404));

  it.each(['%00', '%ff', '%E0%A4%A', 'a%00b', '..%2f..', "'%20or%201=1"])('is told where an id is nothing that could be one: %s', async (id) => {
    for (const where of [`/api/photos/${id}`, `/api/photos/${id}/thumb`, `/api/versions/${id}`, `/api/exports/${id}/file`, `/api/cubes/${id}`]) {
      const answer = await raw('GET', where);
      expectRefusal(answer, answer.status === 400 ? 400 : 404);
    }
  });

  it('is told where a part of a file or its state is asked for that is not there', async () => {
    const thumb = `/api/photos/${photo.id}/thumb`;
    expectRefusal(await raw('GET', thumb, { Range: 'bytes=99999999-' }), 416, /outside the file/);
    expectRefusal(await raw('GET', thumb, { 'If-Match': '"other"' }), 412);
  });

  it.each([
    ['another charset', { 'Content-Type': 'application/json; charset=iso-8859-1' }, '{}', 415],
    ['an unknown encoding', { ...json, 'Content-Encoding': 'lzma' }, '{}', 415],
    ['broken gzip', { ...json, 'Content-Encoding': 'gzip' }, 'not gzip at all', 400],
    ['no JSON', json, '{"name":', 400],
    ['nothing', json, '', 400],
  ] as [string, http.OutgoingHttpHeaders, string, number][])('is told where a request is written wrongly: %s', async (_, headers, body, status) => {
    for (const [method, where] of [
      ['PATCH', `/api/photos/${photo.id}`],
      ['POST', `/api/photos/${photo.id}/versions`],
      ['PUT', `/api/versions/${photo.versions[0]?.id}`],
    ] as const)
      if (status !== 400 || body !== '' || method !== 'PATCH') expectRefusal(await raw(method, where, headers, body), status);
  });

  it('speaks plainly, and repeats only a little of what came', async () => {
    const put = (stack: unknown): Promise<Raw> =>
      raw(
        'PUT',
        `/api/versions/${photo.versions[0]?.id}`,
        json,
        JSON.stringify({ replaces: 1, forget: 0, from: 1, cursor: 1, steps: [{ words: 'x', stack }] }),
      );
    const layer = newLayer('tone', 'a');
    expectRefusal(await put({ ...emptyStack, master: null }), 422, /^master: Must be a number\.$/);
    expectRefusal(await put({ ...emptyStack, layers: [{ ...layer, strength: 7 }] }), 422, /^layers\.0\.strength: Must be at most 1\.$/);
    const long = await put({ ...emptyStack, layers: [{ ...layer, kind: `\u202e${'x'.repeat(5000)}\n` }] });
    expectRefusal(long, 422, /^layers\.0\.kind: there is no kind called “x{39}…”\.$/);
    expectRefusal(await put({ ...emptyStack, ['k'.repeat(900)]: 1 }), 422, /^The version: Unknown field “k{39}…”\.$/);
  });

  it('is what a write gets that another site sends, also without an origin', async () => {
    expectRefusal(await raw('PATCH', `/api/photos/${photo.id}`, { ...json, 'Sec-Fetch-Site': 'cross-site' }, '{"picked":true}'), 403);
    expect((await raw('GET', '/api/photos', { 'Sec-Fetch-Site': 'cross-site' })).status).toBe(200);
  });
});

describe('small files that unpack to much', () => {
  it.each([
    ['a side of four million', 4_000_000, 50, 8, false, /a side has at most/],
    ['1.2 GB behind interlacing', 14142, 14142, 16, true, /more than 800 MB/],
  ] as const)('are refused before they are unpacked: %s', async (_, width, height, depth, interlaced, words) => {
    const { status, body } = await upload(server.address, png(width, height, depth, interlaced, true), 'bomb.png');
    expect([status, body.message]).toEqual([422, expect.stringMatching(words)]);
  });

  it('end in a sentence where they would take more than a decoder may have, or longer; the next one is read', async () => {
    const folder = await newFolder();
    const file = path.join(folder, 'interlaced.png');
    await fs.writeFile(file, png(7000, 7000, 16, true));
    const tight = new Decoders(path.join(root, 'build/decoder.mjs'), { bytes: 250e6, ms: 60_000 });
    await expect(tight.inspect(file, 'interlaced.png', path.join(folder, 'thumb'))).rejects.toMatchObject({
      code: 'too-many-pixels',
      message: /more memory to read/,
    });
    const small = path.join(folder, 'small.jpg');
    await fs.writeFile(small, await jpeg());
    expect(await tight.inspect(small, 'small.jpg', path.join(folder, 'thumb'))).toMatchObject({ width: 320, height: 200 });
    await tight.close();
    const hasty = new Decoders(path.join(root, 'build/decoder.mjs'), { bytes: 900e6, ms: 30 });
    await expect(hasty.inspect(file, 'interlaced.png', path.join(folder, 'thumb'))).rejects.toMatchObject({
      code: 'damaged-picture',
      message: /given up/,
    });
    await hasty.close();
    await fs.rm(folder, { recursive: true });
  });

  it('are read where they fit, upright and of the right size', async () => {
    const lying = await sharp(slope(300, 100), { raw: { width: 300, height: 100, channels: 3 } })
      .withMetadata({ orientation: 8 })
      .png()
      .toBuffer();
    const { body } = await upload(server.address, lying, 'lying.png');
    const turned = body['photo'] as unknown as Photo;
    expect(turned).toMatchObject({ width: 100, height: 300 });
    const thumb = await sharp(Buffer.from(await (await fetch(`${server.address}/api/photos/${turned.id}/thumb`)).arrayBuffer())).metadata();
    expect([thumb.width, thumb.height]).toEqual([100, 300]);
  });
});

describe('long texts', () => {
  it('are limited and read aside: others are answered while a million keys are looked at', async () => {
    const keys = `{${Array.from({ length: 1_000_000 }, (_, i) => `"k${i}":1`).join(',')}}`;
    let done = false;
    const slow = raw('POST', `/api/photos/${photo.id}/versions`, json, keys).finally(() => (done = true));
    await new Promise((resolve) => setTimeout(resolve, 300));
    const answered = await raw('GET', '/api/photos');
    expect([answered.status, done]).toEqual([200, false]);
    expectRefusal(await slow, 400);
    expectRefusal(await raw('POST', `/api/photos/${photo.id}/versions`, json, `"${'x'.repeat(17 << 20)}"`), 413);
  });

  it('of colour tables are refused with a sentence where they are too long, and kept where they are not', async () => {
    const table = (size: number): string => `LUT_3D_SIZE ${size}\n${'0.5 0.25 0.125\n'.repeat(size ** 3)}`;
    const post = (text: string): Promise<Raw> => raw('POST', '/api/cubes?name=a.cube', { 'Content-Type': 'text/plain' }, text);
    expectRefusal(await post('LUT_3D_SIZE 129\n'), 400, /from 2 to 65/);
    expectRefusal(await post(`# ${'x'.repeat(17e6)}`), 413);
    expect((await post(table(65))).status).toBe(201);
  });
});

it('a reader ends with its server however that ended, in the middle of what it does too', async () => {
  const at = await newFolder();
  const alone = await startAlone(at);
  const size = { width: 3000, height: 3000, channels: 3 as const };
  const sent = upload(
    alone.address,
    await sharp({ create: { ...size, background: '#765' } })
      .png()
      .toBuffer(),
    'large.png',
  ).catch(() => undefined);
  const readers = async (): Promise<number[]> => {
    const found = [];
    for (const pid of (await fs.readdir('/proc')).filter((name) => /^\d+$/.test(name))) {
      const status = await fs.readFile(`/proc/${pid}/status`, 'utf8').catch(() => '');
      if (status.includes(`PPid:\t${alone.pid}\n`)) found.push(Number(pid));
    }
    return found;
  };
  let all: number[] = [];
  await soon(async () => expect((all = await readers())).not.toEqual([]));
  // Nothing in it can look after itself any more.
  for (const pid of all) process.kill(pid, 'SIGSTOP');
  await alone.kill();
  await sent;
  for (const pid of all) await soon(() => expect(fs.access(`/proc/${pid}`)).rejects.toThrow());
  await fs.rm(at, { recursive: true });
});

it('a decoder ends when the process that began it is gone before it has started', async () => {
  const parent = spawn('/bin/sh', ['-c', `"${process.execPath}" "${path.join(root, 'build/decoder.mjs')}" 999999 & echo $!; exit 0`], {
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  const pid = await new Promise<number>((resolve) => parent.stdout.once('data', (text: Buffer) => resolve(Number(String(text)))));
  await expect(
    (async () => {
      for (let i = 0; i < 200; i++) {
        try {
          process.kill(pid, 0);
        } catch {
          return 'gone';
        }
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
      return 'there';
    })(),
  ).resolves.toBe('gone');
});
