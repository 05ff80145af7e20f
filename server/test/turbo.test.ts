import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp, { type JpegOptions } from 'sharp';
import { coming, decode } from '@bexlen/render/decode/decode';
import { writeJpeg } from '@bexlen/render/encode/encode';
import { encodeJpeg } from '@bexlen/render/encode/strips';
import { turboJpeg, type JpegWish, type TurboJpeg } from '@bexlen/render/decode/turbo';

if (!turboJpeg) throw new Error('libturbojpeg is not on this machine');
const turbo = turboJpeg;

const [width, height] = [157, 101];
/** Slow waves with grain and hard edges, another in each channel. */
const pixels = new Uint8Array(width * height * 3).map((_, i) => 128 + 80 * Math.sin(i / 91) + ((i * 7919) % 37) - ((i / 3) % 20 < 10 ? 10 : 0));
const picture = () => sharp(pixels, { raw: { width, height, channels: 3 } });
const room = () => new Uint8Array(new SharedArrayBuffer(width * height * 3));
const bySharp = (jpeg: Buffer): Promise<Buffer> => sharp(jpeg).removeAlpha().toColourspace('srgb').raw().toBuffer();

describe('libturbojpeg', () => {
  it.each<[string, JpegOptions]>([
    ['without less colour', { chromaSubsampling: '4:4:4', quality: 95 }],
    ['with less colour', { chromaSubsampling: '4:2:0', quality: 80 }],
    ['progressive', { progressive: true, quality: 70 }],
    ['with tables made to measure', { optimiseCoding: true, quality: 30 }],
  ])('decodes a JPEG %s to the very bytes', async (_, options) => {
    const jpeg = await picture().jpeg(options).toBuffer();
    const rows = room();
    expect(await turbo.decode(jpeg, width, height, rows)).toBe(true);
    expect(Buffer.compare(Buffer.from(rows), await bySharp(jpeg))).toBe(0);
  });

  it('decodes what has half of its colour across to the very bytes', async () => {
    // The other encoder has no such sampling.
    const jpeg = await turbo.encode(pixels, width, { quality: 85, sampling: '4:2:2' as '4:2:0' });
    // The first channel's sampling in the frame's header: two across, one down (ITU-T T.81, B.2.2).
    expect(jpeg[jpeg.indexOf(Buffer.from([0xff, 0xc0])) + 11]).toBe(0x21);
    const rows = room();
    expect(await turbo.decode(jpeg, width, height, rows)).toBe(true);
    expect(Buffer.compare(Buffer.from(rows), await bySharp(jpeg))).toBe(0);
  });

  it('decodes grey to three channels', async () => {
    const jpeg = await picture().toColourspace('b-w').jpeg().toBuffer();
    const rows = room();
    expect(await turbo.decode(jpeg, width, height, rows)).toBe(true);
    expect(Buffer.compare(Buffer.from(rows), await bySharp(jpeg))).toBe(0);
  });

  it('declines what is cut off, damaged, of another size, in inks, or no JPEG', async () => {
    const jpeg = await picture().jpeg().toBuffer();
    const damaged = Buffer.from(jpeg).fill(0xff, jpeg.length >> 1, (jpeg.length >> 1) + 40);
    const inks = await picture().toColourspace('cmyk').jpeg().toBuffer();
    for (const file of [jpeg.subarray(0, jpeg.length - 300), damaged, inks, await picture().png().toBuffer(), Buffer.alloc(0)])
      expect(await turbo.decode(file, width, height, room())).toBe(false);
    expect(await turbo.decode(jpeg, height, width, room())).toBe(false);
    expect(() => turbo.decode(jpeg, width, height, room().subarray(1))).toThrow('room');
  });

  it.each<JpegWish>([
    { quality: 95, sampling: '4:4:4' },
    { quality: 70, sampling: '4:2:0' },
  ])('encodes to the same pixels as without it: $sampling', async (wish) => {
    const [with_, without] = [await encodeJpeg(pixels, width, wish), await encodeJpeg(pixels, width, wish, null)];
    expect(Buffer.compare(await bySharp(with_), await bySharp(without))).toBe(0);
  });

  it('codes many at once', async () => {
    const jpegs = await Promise.all(Array.from({ length: 12 }, (_, i) => encodeJpeg(pixels, width, { quality: 40 + 5 * i, sampling: '4:2:0' })));
    const decoded = await Promise.all(
      jpegs.map(async (jpeg) => {
        const rows = room();
        expect(await turbo.decode(jpeg, width, height, rows)).toBe(true);
        return rows;
      }),
    );
    for (const [i, jpeg] of jpegs.entries()) expect(Buffer.compare(Buffer.from(decoded[i] as Uint8Array), await bySharp(jpeg))).toBe(0);
  });
});

describe('an original that is coming', () => {
  let folder = '';
  let asked = 0;
  const counted: TurboJpeg = { ...turbo, decode: (...args) => (asked++, turbo.decode(...args)) };
  beforeAll(async () => {
    folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-turbo-'));
  });
  afterAll(() => fs.rm(folder, { recursive: true }));

  it.each<[string, number, () => Promise<Buffer>]>([
    ['a plain JPEG', 1, () => picture().jpeg().toBuffer()],
    ['a JPEG in sRGB that says so', 1, () => picture().withIccProfile('srgb').jpeg().toBuffer()],
    ['a JPEG in wide colours', 0, () => picture().withIccProfile('p3').jpeg().toBuffer()],
    ['a JPEG that lies on its side', 0, () => picture().withMetadata({ orientation: 6 }).jpeg().toBuffer()],
    ['a JPEG in inks', 1, () => picture().toColourspace('cmyk').jpeg().toBuffer()],
    ['a PNG', 0, () => picture().png().toBuffer()],
  ])('has the pixels of one decoded: %s', async (name, times, make) => {
    const source = { file: path.join(folder, name.replaceAll(' ', '-')), depth: 8, alpha: false } as const;
    await fs.writeFile(source.file, await make());
    asked = 0;
    for (const coder of [counted, null]) {
      const [{ layout, into }, whole] = [await coming(source, coder), await decode(source)];
      const rows = new Uint8Array(whole.pixels.byteLength);
      await into(rows);
      expect(layout).toEqual(whole.layout);
      expect(Buffer.compare(rows, whole.pixels)).toBe(0);
    }
    expect(asked).toBe(times);
  });
});

it('a JPEG of either coder holds its profile, and JFIF before it', async () => {
  const file = path.join(await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-turbo-')), 'out.jpg');
  for (const coder of [turbo, null]) {
    await writeJpeg(file, [await encodeJpeg(pixels, width, { quality: 90, sampling: '4:4:4' }, coder)], 'display-p3');
    const jpeg = await fs.readFile(file);
    const meta = await sharp(jpeg).metadata();
    expect(meta.icc?.includes(Buffer.from('P3', 'utf16le').swap16()) ?? false).toBe(true);
    expect(jpeg.indexOf('JFIF')).toBe(coder ? 6 : -1);
  }
});
