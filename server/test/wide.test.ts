import zlib from 'node:zlib';
import { converter } from 'culori';
import sharp from 'sharp';
import { emptyStack, newLayer, readPam, type Stack } from '@bexlen/core';
import type { ExportJob, Photo } from '@bexlen/api';
import { withJpegProfile, withPngProfile } from '@bexlen/render/decode/profile';
import { asking, order } from './asking';
import { serverForAll, upload } from './server';

const oklch = converter('oklch');
const server = serverForAll(20e6);
const { ask, finished } = asking(() => server.address);

/** Squares of colours that sRGB does not hold, of some that it does, and of greys; each of 16 pixels. */
const COLOURS = [
  [0, 255, 0],
  [40, 200, 60],
  [255, 180, 0],
  [255, 0, 0],
  [128, 128, 128],
  [250, 250, 250],
  [90, 110, 130],
  [10, 20, 30],
] as const;
/** The first three of sRGB as they are in Display P3. */
const IN_P3 = [
  [117, 251, 76],
  [97, 197, 81],
  [244, 183, 63],
];
const SIDE = 16;
const raw = { width: SIDE * COLOURS.length, height: SIDE, channels: 3 } as const;
const bytes = Buffer.from(Array.from({ length: raw.width * SIDE }, (_, i) => COLOURS[Math.floor((i % raw.width) / SIDE)] ?? [0, 0, 0]).flat());

/** A profile as the library has it. */
async function profile(name: string): Promise<Buffer> {
  const made = sharp({ create: { width: 1, height: 1, channels: 3, background: 'grey' } }).withIccProfile(name);
  return (await sharp(await made.png().toBuffer()).metadata()).icc as Buffer;
}
const plainPng = (): Promise<Buffer> => sharp(bytes, { raw }).png().toBuffer();
const p3Png = async (): Promise<Buffer> => Buffer.concat(withPngProfile(await plainPng(), await profile('p3'), 'P3'));

const photoOf = async (file: Buffer, name: string): Promise<Photo> => (await upload(server.address, file, name)).body['photo'] as unknown as Photo;

/** The middles of the squares of a file, as its values stand; and as a reader shows them that converts by the profile. */
async function squaresOf(file: Buffer, ignoreIcc = true): Promise<number[][]> {
  const { data, info } = await sharp(file, { ignoreIcc }).toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  return COLOURS.map((_, i) => [...data.subarray(((SIDE / 2) * info.width + i * SIDE + SIDE / 2) * info.channels).subarray(0, 3)]);
}
const furthest = (a: number[][], b: readonly (readonly number[])[]): number =>
  Math.max(...a.flatMap((square, i) => square.map((v, c) => Math.abs(v - (b[i]?.[c] as number)))));

async function exported(photo: Photo, wish: object, stack: Stack = emptyStack): Promise<Buffer> {
  const steps = [{ words: 'Begun', stack }];
  const { body: version } = await ask<{ id: string }>('POST', `/photos/${photo.id}/versions`, { name: 'A', steps, cursor: 0 });
  return (await finished((await order(ask, { versionId: version.id, ...wish })).body as ExportJob)).bytes;
}

/** The PNG without a profile, which says by numbers that it is Display P3 (cICP: primaries 12, curve 13, no matrix, full range). */
async function codedPng(): Promise<Buffer> {
  const png = await plainPng();
  const body = Buffer.concat([Buffer.from('cICP', 'latin1'), Buffer.from([12, 13, 0, 1])]);
  const [length, sum] = [Buffer.from([0, 0, 0, 4]), Buffer.alloc(4)];
  sum.writeUInt32BE(zlib.crc32(body));
  return Buffer.concat([png.subarray(0, 33), length, body, sum, png.subarray(33)]);
}
async function codedAvif(): Promise<Buffer> {
  const avif = await sharp(bytes, { raw }).avif({ lossless: true, chromaSubsampling: '4:4:4' }).toBuffer();
  avif.writeUInt16BE(12, avif.indexOf('colrnclx', 0, 'latin1') + 8);
  return avif;
}

it.each([
  ['a PNG', codedPng, 'coded.png', 0],
  ['an AVIF', codedAvif, 'coded.avif', 3],
] as const)('%s that names Display P3 by numbers in the place of a profile is taken so', async (_, make, name, within) => {
  const photo = await photoOf(await make(), name);
  expect(photo).toMatchObject({ gamut: 'display-p3', depth: 8 });
  const file = await exported(photo, { format: 'png' });
  expect((await sharp(file).metadata()).icc?.equals(await profile('p3'))).toBe(true);
  expect(furthest(await squaresOf(file), COLOURS)).toBeLessThanOrEqual(within);
});

it('16 bits with a profile of sRGB that another program wrote are taken as they stand', async () => {
  const own = await profile('srgb');
  // The same to all that read it, under another date.
  const other = Buffer.from(own);
  other.writeUInt16BE(1999, 24);
  const deep = await sharp(
    Uint16Array.from(bytes, (v) => 257 * v),
    { raw },
  )
    .toColourspace('rgb16')
    .png()
    .toBuffer();
  const photo = await photoOf(Buffer.concat(withPngProfile(deep, other, 'other')), 'other.png');
  expect(photo).toMatchObject({ gamut: 'srgb', depth: 16 });
  expect(furthest(await squaresOf(await exported(photo, { format: 'png', depth: 8 })), COLOURS)).toBeLessThanOrEqual(1);
});

describe('a photo in Display P3', () => {
  let photo: Photo;
  beforeAll(async () => {
    photo = await photoOf(await p3Png(), 'wide.png');
  });

  it('is worked on in Display P3, by its own bytes', async () => {
    expect(photo).toMatchObject({ gamut: 'display-p3', depth: 8 });
    const sent = await fetch(`${server.address}/api/photos/${photo.id}/pixels?edge=1024`);
    const { layout, pixels } = readPam(new Uint8Array(await sent.arrayBuffer()));
    expect(layout).toMatchObject({ gamut: 'display-p3', depth: 8 });
    expect(Buffer.from(pixels).equals(bytes)).toBe(true);
  });

  it.each([
    ['png', 1],
    ['tiff', 1],
    ['jpeg', 2],
    ['webp', 3],
    ['avif', 3],
  ] as const)('comes out as it was, with its profile: %s', async (format, most) => {
    const lossy = format === 'jpeg' || format === 'webp' || format === 'avif';
    const file = await exported(photo, { format, ...(lossy && { quality: 95 }), ...(format === 'tiff' && { depth: 8 }) });
    expect(furthest(await squaresOf(file), COLOURS)).toBeLessThanOrEqual(most);
    expect((await sharp(file).metadata()).icc?.equals(await profile('p3'))).toBe(true);
  });

  it('comes into sRGB with its hues, no colour like another', async () => {
    const file = await exported(photo, { format: 'png', gamut: 'srgb' });
    const squares = await squaresOf(file, false);
    expect(furthest(squares.slice(4), [...(await squaresOf(await p3Png(), false))].slice(4))).toBeLessThanOrEqual(1);
    const [green = [], leaf = [], orange = [], red = []] = squares;
    for (const [r = 0, g = 0, b = 0] of [green, leaf]) expect(g).toBeGreaterThan(Math.max(r, b) + 80);
    expect((orange[0] ?? 0) > (orange[1] ?? 0) && (orange[1] ?? 0) > (orange[2] ?? 0) + 80).toBe(true);
    expect((red[0] ?? 0) > Math.max(red[1] ?? 0, red[2] ?? 0) + 150).toBe(true);
  });

  it('as a JPEG is read by the same bytes that a decoder gives', async () => {
    const plain = await sharp(bytes, { raw }).jpeg({ quality: 96, chromaSubsampling: '4:4:4' }).toBuffer();
    const jpeg = await photoOf(Buffer.concat(withJpegProfile(plain, await profile('p3'))), 'wide.jpg');
    expect(jpeg).toMatchObject({ gamut: 'display-p3', depth: 8 });
    expect(furthest(await squaresOf(await exported(jpeg, { format: 'png' })), await squaresOf(plain))).toBeLessThanOrEqual(1);
  });

  it('has a small picture with its profile', async () => {
    const thumb = Buffer.from(await (await fetch(`${server.address}/api/photos/${photo.id}/thumb`)).arrayBuffer());
    expect((await sharp(thumb).metadata()).icc?.equals(await profile('p3'))).toBe(true);
    expect(furthest(await squaresOf(thumb), COLOURS)).toBeLessThanOrEqual(24);
  });
});

it('a photo in sRGB stays in sRGB, by its own bytes, and can be written in Display P3', async () => {
  const photo = await photoOf(await plainPng(), 'plain.png');
  expect(photo).toMatchObject({ gamut: 'srgb', depth: 8 });
  const file = await exported(photo, { format: 'png' });
  expect(furthest(await squaresOf(file), COLOURS)).toBe(0);
  const wide = await exported(photo, { format: 'png', gamut: 'display-p3' });
  expect(furthest((await squaresOf(wide)).slice(0, 3), IN_P3)).toBeLessThanOrEqual(1);
});

it('what is laid over it comes into its primaries', async () => {
  const under = await photoOf(await p3Png(), 'under.png');
  const over = await photoOf(await sharp(bytes, { raw }).png({ compressionLevel: 9 }).toBuffer(), 'over.png');
  const layer = newLayer('picture', 'p');
  const params = { ...layer.params, photo: over.id, size: 1, aspect: SIDE / raw.width };
  const file = await exported(under, { format: 'png' }, { ...emptyStack, layers: [{ ...layer, params }] });
  expect(furthest((await squaresOf(file)).slice(0, 3), IN_P3)).toBeLessThanOrEqual(1);
});

it('a photo that is wider than Display P3 is worked on in that, in 16 bits; what it does not hold comes in at its hue and still differs', async () => {
  // From a grey to each of six strong colours, in steps.
  const ways = ['011', '001', '101', '100', '110', '010'];
  const STEPS = 12;
  const values = ways.flatMap((way) =>
    Array.from({ length: STEPS }, (_, i) => [...way].map((full) => (full === '1' ? 0.7 : 0.7 - (0.6 * i) / STEPS))),
  );
  const row = { width: SIDE * values.length, height: SIDE, channels: 3 } as const;
  const pixels = Uint16Array.from(
    { length: row.width * SIDE * 3 },
    (_, i) => 65535 * (values[Math.floor(((i / 3) % row.width) / SIDE)]?.[i % 3] ?? 0),
  );
  const deep = await sharp(pixels, { raw: row }).toColourspace('rgb16').png().toBuffer();
  const photo = await photoOf(Buffer.concat(withPngProfile(deep, await wideProfile(), 'Wide')), 'very wide.png');
  expect(photo).toMatchObject({ gamut: 'display-p3', depth: 16 });
  const file = await exported(photo, { format: 'png', depth: 16 });
  const { data } = await sharp(file, { ignoreIcc: true }).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
  const made = values.map((_, i) => [0, 1, 2].map((c) => data.readUInt16LE(6 * ((SIDE / 2) * row.width + i * SIDE + SIDE / 2) + 2 * c) / 65535));
  const turns = values.map((rgb, i) => {
    const [x, y, z] = [0, 1, 2].map((j) => rgb.reduce((sum, v, c) => sum + v ** 1.8 * (WIDE[c]?.[j] as number), 0)) as [number, number, number];
    const [r, g, b] = made[i] as [number, number, number];
    const [was, is] = [oklch({ mode: 'xyz50', x, y, z }), oklch({ mode: 'p3', r, g, b })];
    return was.c < 0.02 ? 0 : Math.abs((((is.h ?? 0) - (was.h ?? 0) + 540) % 360) - 180);
  });
  expect(turns.filter((turn) => turn > 2)).toEqual([]);
  expect(new Set(made.map((rgb) => rgb.map((v) => Math.round(1024 * v)).join())).size).toBe(new Set(values.map(String)).size);
});

/** Red, green and blue of ISO 22028-2 in D50: far outside of what is seen on screens. */
const WIDE = [
  [0.7977, 0.288, 0],
  [0.1352, 0.7119, 0],
  [0.0313, 0.0001, 0.8249],
] as const;

/** A profile of those, with a power of 1.8. */
async function wideProfile(): Promise<Buffer> {
  const icc = Buffer.from(await profile('p3'));
  const tags = new Map(
    Array.from({ length: icc.readUInt32BE(128) }, (_, i) => [icc.toString('latin1', 132 + 12 * i, 136 + 12 * i), icc.readUInt32BE(136 + 12 * i)]),
  );
  for (const [i, name] of ['rXYZ', 'gXYZ', 'bXYZ'].entries())
    WIDE[i]?.forEach((v, c) => icc.writeInt32BE(Math.round(v * 65536), (tags.get(name) ?? 0) + 8 + 4 * c));
  const curve = tags.get('rTRC') ?? 0;
  // Of type 0 only the power is read.
  icc.writeUInt16BE(0, curve + 8);
  icc.writeInt32BE(Math.round(1.8 * 65536), curve + 12);
  return icc;
}
