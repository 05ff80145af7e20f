import fs from 'node:fs/promises';
import path from 'node:path';
import { readPam } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { asking, order } from './asking';
import { filesIn, serverForAll, upload } from './server';

const server = serverForAll(20e6);
const { ask, finished } = asking(() => server.address);

/** Pictures of 96 x 64: red and green above, blue and a slope of greys below. */
const sample = (name: string): Promise<Buffer> => fs.readFile(path.join(import.meta.dirname, 'heic', `${name}.heic`));

/** A file with one property more of its picture (ISO/IEC 23008-12, 9.3), put behind the others. */
function withProperty(file: Buffer, property: Buffer): Buffer {
  const at = (type: string): number => file.indexOf(type, 0, 'latin1') - 4;
  const [ipco, ipma, iloc] = [at('ipco'), at('ipma'), at('iloc')];
  const endOf = (box: number): number => box + file.readUInt32BE(box);
  const more = property.length + 1;
  const grown = Buffer.from(file);
  const grow = (box: number, bytes: number): number => grown.writeUInt32BE(file.readUInt32BE(box) + bytes, box);
  grow(at('meta'), more);
  grow(at('iprp'), more);
  grow(ipco, property.length);
  grow(ipma, 1);
  // Where the pixels begin: the base of the only item.
  grow(iloc + 20, more);
  const count = ipma + 18;
  grown.writeUInt8(file.readUInt8(count) + 1, count);
  const essential = 0x80 | (file.readUInt8(count) + 1);
  return Buffer.concat([
    grown.subarray(0, endOf(ipco)),
    property,
    grown.subarray(endOf(ipco), endOf(ipma)),
    Buffer.from([essential]),
    grown.subarray(endOf(ipma)),
  ]);
}
const box = (type: string, ...bytes: number[]): Buffer => {
  const head = Buffer.alloc(8);
  head.writeUInt32BE(8 + bytes.length);
  head.write(type, 4, 'latin1');
  return Buffer.concat([head, Buffer.from(bytes)]);
};
const nclx = (primaries: number, transfer: number): Buffer => box('colr', ...Buffer.from('nclx'), 0, primaries, 0, transfer, 0, 6, 0x80);

async function taken(bytes: Buffer, name = 'a.heic'): Promise<Photo> {
  const { status, body } = await upload(server.address, bytes, name);
  expect([status, body.message]).toEqual([201, undefined]);
  return body['photo'] as unknown as Photo;
}

/** Values in the middle of the four fields, in 0..1, from the top left along the rows. */
async function fields({ id }: Photo): Promise<number[][]> {
  const answer = await fetch(`${server.address}/api/photos/${id}/pixels?edge=256`);
  const { layout, pixels } = readPam(new Uint8Array(await answer.arrayBuffer()));
  const { width, height, depth } = layout;
  const values = depth === 16 ? new Uint16Array(pixels.buffer.slice(pixels.byteOffset)) : pixels;
  const of = (x: number, y: number): number[] =>
    [0, 1, 2].map(
      (c) => (values[(Math.floor(y * height) * width + Math.floor(x * width)) * layout.channels + c] as number) / (depth === 16 ? 65535 : 255),
    );
  return [of(0.2, 0.2), of(0.8, 0.2), of(0.2, 0.8), of(0.75, 0.8)];
}
const RED = [200, 40, 40].map((v) => v / 255);
const GREEN = [40, 180, 60].map((v) => v / 255);
const BLUE = [40, 60, 200].map((v) => v / 255);
const GREY = [120, 120, 120].map((v) => v / 255);
const near = (got: number[][], wanted: number[][], within = 0.02): void =>
  got.forEach((field, i) => field.forEach((value, c) => expect(Math.abs(value - (wanted[i]?.[c] ?? NaN))).toBeLessThan(within)));

it.each([
  ['plain', 8],
  ['ten-bits', 16],
] as const)('is read to its pixels: %s, at %i bits', async (name, depth) => {
  const photo = await taken(await sample(name));
  expect(photo).toMatchObject({ format: 'HEIC', width: 96, height: 64, depth });
  near(await fields(photo), [RED, GREEN, BLUE, GREY]);
});

it('of 10 bits keeps steps that 8 bits have not', async () => {
  const photo = await taken(await sample('ten-bits')).catch(
    async () => (await ask<{ photos: Photo[] }>('GET', '/photos')).body.photos.find(({ depth }) => depth === 16) as Photo,
  );
  const answer = await fetch(`${server.address}/api/photos/${photo.id}/pixels?edge=256`);
  const { layout, pixels } = readPam(new Uint8Array(await answer.arrayBuffer()));
  const values = new Uint16Array(pixels.buffer.slice(pixels.byteOffset));
  const row = Array.from({ length: 40 }, (_, x) => values[(56 * layout.width + 52 + x) * 3 + 1] as number);
  expect(row.filter((value) => value % 257 !== 0).length).toBeGreaterThan(20);
});

it('is turned upright as it says, once', async () => {
  // A quarter turn against the clock: what was above at the right comes above at the left.
  const photo = await taken(withProperty(await sample('plain'), box('irot', 1)));
  expect(photo).toMatchObject({ width: 64, height: 96 });
  near(await fields(photo), [GREEN, [136, 136, 136].map((v) => v / 255), RED, BLUE]);
});

it('is worked on in the primaries that its profile has, or that it names', async () => {
  const [profile, named] = [await taken(await sample('p3')), await taken(withProperty(await sample('plain'), nclx(12, 13)))];
  expect([profile.gamut, named.gamut]).toEqual(['display-p3', 'display-p3']);
  // Its values are said to be of Display P3, and stay as they are.
  near(await fields(named), [RED, GREEN, BLUE, GREY]);
  // Made of the same colours in sRGB, as Display P3 has them.
  const inP3 = [
    [184, 56, 49],
    [88, 177, 77],
    [44, 59, 192],
  ].map((colour) => colour.map((v) => v / 255));
  near(await fields(profile), [...inP3, GREY]);
});

it('becomes a file, also after what it was developed into is gone', async () => {
  const { photos } = (await ask<{ photos: Photo[] }>('GET', '/photos')).body;
  const photo = photos.at(-1) as Photo;
  for (const file of await filesIn(path.join(server.folder, 'data/derived'))) await fs.rm(file);
  const begun = await order(ask, { versionId: photo.versions[0]?.id, format: 'png' });
  const { job } = await finished(begun.body);
  expect([job.width, job.height]).toEqual([96, 64]);
  near(await fields(photo), [RED, GREEN, BLUE, GREY]);
});

it.each([
  ['cut off', async () => (await sample('plain')).subarray(0, 500), 422, /damaged or cut off|cannot be read/],
  ['without its pixels', async () => (await sample('plain')).subarray(0, 0x160), 422, /damaged or cut off/],
  ['for screens of high dynamic range', async () => withProperty(await sample('ten-bits'), nclx(9, 16)), 415, /high dynamic range/],
  ['that claims to be vast', async () => vast(await sample('plain')), 422, /damaged|megapixels|a side has/],
] as const)('is refused with a sentence, and leaves nothing: %s', async (_, make, status, words) => {
  const files = await filesIn(path.join(server.folder, 'data'));
  const { status: got, body } = await upload(server.address, await make(), 'strange.heic');
  expect([got, body.message]).toEqual([status, expect.stringMatching(words)]);
  expect((await filesIn(path.join(server.folder, 'data'))).sort()).toEqual(files.sort());
});

function vast(file: Buffer): Buffer {
  const claimed = Buffer.from(file);
  const ispe = claimed.indexOf('ispe', 0, 'latin1');
  claimed.writeUInt32BE(60_000, ispe + 8);
  claimed.writeUInt32BE(60_000, ispe + 12);
  return claimed;
}
