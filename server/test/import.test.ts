import fs from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { readPam } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { filesIn, jpeg, serverForAll, slope, upload, png } from './server';

const server = serverForAll(2e6);

const raw = { width: 60, height: 40, channels: 3 } as const;
const photosNow = async (): Promise<Photo[]> => ((await (await fetch(`${server.address}/api/photos`)).json()) as { photos: Photo[] }).photos;

describe('importing a file', () => {
  it('reads every format at its own depth', async () => {
    const words = new Uint16Array(60 * 40 * 3).map((_, i) => (i * 97) & 65535);
    const deep = sharp(words, { raw }).toColourspace('rgb16');
    const flat = sharp(slope(60, 40), { raw });
    const files: [string, Buffer, 8 | 16][] = [
      ['a.jpg', await flat.clone().jpeg().toBuffer(), 8],
      ['b.png', await flat.clone().png().toBuffer(), 8],
      ['c.png', await deep.clone().png().toBuffer(), 16],
      ['d.tif', await flat.clone().tiff({ compression: 'lzw' }).toBuffer(), 8],
      ['e.tif', await deep.clone().tiff({ compression: 'lzw' }).toBuffer(), 16],
      ['f.webp', await flat.clone().webp().toBuffer(), 8],
      ['g.avif', await flat.clone().avif().toBuffer(), 8],
    ];
    for (const [name, bytes, depth] of files) {
      const { status, body } = await upload(server.address, bytes, name);
      expect([name, status]).toEqual([name, 201]);
      expect(body['photo']).toMatchObject({ width: 60, height: 40, depth, name: name[0] });
    }
    const sixteen = (await photosNow()).find(({ name }) => name === 'c');
    const pam = await fetch(`${server.address}/api/photos/${sixteen?.id}/pixels?edge=256`);
    const { layout, pixels } = readPam(new Uint8Array(await pam.arrayBuffer()));
    expect(layout.depth).toBe(16);
    expect([...new Uint16Array(pixels.slice().buffer)]).toEqual([...words]);
  });

  it('turns a photo upright and keeps its primaries', async () => {
    const red = sharp({ create: { width: 50, height: 30, channels: 3, background: { r: 200, g: 40, b: 30 } } });
    const turned = await red.withIccProfile('p3').withMetadata({ orientation: 6, icc: 'p3' }).jpeg({ quality: 100 }).toBuffer();
    const { body } = await upload(server.address, turned, 'turned.jpg');
    const photo = body['photo'] as unknown as Photo;
    expect(photo).toMatchObject({ width: 30, height: 50, gamut: 'display-p3' });
    const pam = readPam(new Uint8Array(await (await fetch(`${server.address}/api/photos/${photo.id}/pixels?edge=256`)).arrayBuffer()));
    expect(pam.layout).toMatchObject({ width: 30, height: 50 });
    // The red of sRGB as Display P3 has it.
    [184, 56, 42].forEach((v, c) => expect(Math.abs((pam.pixels[c] as number) - v)).toBeLessThanOrEqual(4));
  });

  it.each([
    ['jpeg', 'p3'],
    ['png', 'p3'],
    ['tiff', 'p3'],
    ['webp', 'srgb'],
    ['jpeg', 'srgb'],
  ] as const)('makes a photo of %s with a profile (%s) smaller in its own colours, in linear light', async (format, profile) => {
    const [width, height] = [800, 600];
    const board = Buffer.from(
      Array.from({ length: width * height * 3 }, (_, i) =>
        (Math.floor(i / 3) + Math.floor(i / 3 / width)) % 2 ? 220 : [90, 40, 20][i % 3],
      ) as number[],
    );
    const image = sharp(board, { raw: { width, height, channels: 3 } }).withIccProfile(profile);
    const bytes = await (
      format === 'jpeg'
        ? image.jpeg({ quality: 100, chromaSubsampling: '4:4:4' })
        : format === 'webp'
          ? image.webp({ lossless: true })
          : format === 'tiff'
            ? image.tiff({ compression: 'lzw' })
            : image.png()
    ).toBuffer();
    const { body } = await upload(server.address, bytes, `${profile}.${format}`);
    const { id } = body['photo'] as unknown as Photo;
    const { pixels, layout } = readPam(new Uint8Array(await (await fetch(`${server.address}/api/photos/${id}/pixels?edge=256`)).arrayBuffer()));
    const middle = (128 * layout.width + 100) * layout.channels;
    // The mean of the light of both tones, encoded (IEC 61966-2-1).
    const light = (v: number): number => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4);
    const mean = (v: number): number => 255 * (1.055 * ((light(220) + light(v)) / 2) ** (1 / 2.4) - 0.055);
    [90, 40, 20].forEach((v, c) => expect(Math.abs((pixels[middle + c] as number) - mean(v))).toBeLessThanOrEqual(4));
  });

  it('averages in linear light when it makes a photo smaller', async () => {
    const board = Buffer.from(Array.from({ length: 512 * 512 * 3 }, (_, i) => (((Math.floor(i / 3) % 512) + Math.floor(i / 1536)) % 2) * 255));
    const { body } = await upload(
      server.address,
      await sharp(board, { raw: { width: 512, height: 512, channels: 3 } })
        .png()
        .toBuffer(),
      'board.png',
    );
    const { id } = body['photo'] as unknown as Photo;
    const { pixels } = readPam(new Uint8Array(await (await fetch(`${server.address}/api/photos/${id}/pixels?edge=256`)).arrayBuffer()));
    // Half of the light is 0.735 encoded (IEC 61966-2-1), not half of the code values.
    expect(Math.abs((pixels[60000] as number) - 188)).toBeLessThanOrEqual(1);
  });

  it('takes the same file twice as one photo, also when both come at once', async () => {
    const bytes = await jpeg(90, 61);
    const before = (await photosNow()).length;
    const [a, b] = await Promise.all([upload(server.address, bytes, 'twin.jpg'), upload(server.address, bytes, 'again.jpg')]);
    expect([a.status, b.status].sort()).toEqual([200, 201]);
    expect((await photosNow()).length).toBe(before + 1);
  });
});

const halfOf = (bytes: Buffer): Buffer => bytes.subarray(0, bytes.length / 2);

describe('a file that cannot be taken', () => {
  const cases: [string, () => Promise<Buffer> | Buffer, string, number, RegExp][] = [
    ['text.jpg', () => Buffer.from('not a picture at all'), 'no-picture', 415, /not a picture/],
    ['empty.png', () => Buffer.alloc(0), 'no-picture', 415, /empty/],
    ['cut.jpg', async () => (await jpeg(300, 200)).subarray(0, 4000), 'damaged-picture', 422, /damaged or cut off/],
    [
      'cut.png',
      async () =>
        halfOf(
          await sharp(slope(200, 100), { raw: { width: 200, height: 100, channels: 3 } })
            .png({ compressionLevel: 1 })
            .toBuffer(),
        ),
      'damaged-picture',
      422,
      /damaged/,
    ],
    ['huge.png', () => png(60000, 60000, 8, false, true), 'too-many-pixels', 422, /60000 x 60000/],
    [
      'drawing.svg',
      () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>'),
      'unsupported-format',
      415,
      /SVG/,
    ],
    ['large.tif', () => Buffer.alloc(3e6, 1), 'too-large', 413, /larger than/],
  ];
  it.each(cases)('%s is refused with a sentence, and leaves nothing', async (name, make, code, status, words) => {
    const bytes = await make();
    const files = await filesIn(server.folder);
    const photos = await photosNow();
    const answer = await upload(server.address, bytes, name);
    expect(answer.status).toBe(status);
    expect(answer.body.code).toBe(code);
    expect(answer.body.message).toMatch(words);
    expect(answer.body.hint).toMatch(/\.$/);
    expect(await filesIn(server.folder)).toEqual(files);
    expect(await photosNow()).toEqual(photos);
  });

  it('takes a picture by what it is, not by its ending', async () => {
    expect((await upload(server.address, await jpeg(77, 55), 'really-a-jpeg.png')).body['photo']).toMatchObject({ format: 'JPEG' });
  });
});

it('keeps originals as they came', async () => {
  const bytes = await jpeg(123, 45);
  await upload(server.address, bytes, 'original.jpg');
  const originals = (await filesIn(server.folder)).filter((file) => file.includes(`${path.sep}originals${path.sep}`));
  const contents = await Promise.all(originals.map((file) => fs.readFile(file)));
  expect(contents.some((content) => content.equals(bytes))).toBe(true);
});
