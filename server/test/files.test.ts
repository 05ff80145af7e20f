import fs from 'node:fs/promises';
import path from 'node:path';
import exifr from 'exifr';
import sharp from 'sharp';
import type { Estimate, ExportJob, ExportWish, Photo, Version } from '@bexlen/api';
import { fileFormats } from '@bexlen/api';
import { readZip } from '@bexlen/render/files/zips';
import { asking, order, treated } from './asking';
import { serverForAll, upload } from './server';

const server = serverForAll(64e6);
let photo: Photo;
let version: Version;

const { ask, finished } = asking(() => server.address);

const XMP = `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:Iptc4xmpCore="http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/" xmlns:exif="http://ns.adobe.com/exif/1.0/" Iptc4xmpCore:Location="Someplace" exif:GPSLatitude="48,1N" dc:source="the attic"/></rdf:RDF></x:xmpmeta>`;

/** A photo that lies on its side, with all that cameras write. */
const original = async (): Promise<Buffer> => {
  const [width, height] = [600, 400];
  const pixels = Buffer.alloc(width * height * 3);
  for (let i = 0; i < pixels.length; i++) {
    const [x, y] = [Math.floor(i / 3) % width, Math.floor(i / 3 / width)];
    pixels[i] = 128 + 60 * Math.sin(x / 40 + (i % 3)) + 40 * Math.cos(y / 25) + ((x * 31 + y * 17) % 23);
  }
  return sharp(pixels, { raw: { width, height, channels: 3 } })
    .withExif({
      IFD0: { Orientation: '6', Copyright: 'The puppeteer', Make: 'Box' },
      IFD2: { DateTimeOriginal: '2024:05:06 07:08:09' },
      IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '48/1 8/1 0/1', GPSLongitudeRef: 'E', GPSLongitude: '11/1 0/1 0/1' },
    })
    .withXmp(XMP)
    .withMetadata({ orientation: 6 })
    .jpeg({ quality: 95 })
    .toBuffer();
};

beforeAll(async () => {
  photo = (await upload(server.address, await original(), 'on its side.jpg')).body['photo'] as unknown as Photo;
  version = (await ask<Version>('POST', `/photos/${photo.id}/versions`, { name: 'Made', steps: [{ words: 'x', stack: treated }], cursor: 0 })).body;
});

async function fileOf(given: Omit<ExportWish, 'versionId'>): Promise<{ job: ExportJob; bytes: Buffer }> {
  const { body } = await order(ask, { versionId: version.id, ...given });
  return finished(body);
}

const FIRST_BYTES: Record<string, RegExp> = {
  jpeg: /^\xff\xd8\xff/,
  png: /^\x89PNG/,
  tiff: /^II\*\0/,
  webp: /^RIFF....WEBP/s,
  avif: /^....ftypavif/s,
};

describe('a file', () => {
  it('whose download broke off is given from there on, for as long as it is the same', async () => {
    const { job, bytes } = await fileOf({ format: 'jpeg', quality: 90 } as Omit<ExportWish, 'versionId'>);
    const where = `${server.address}/api/exports/${job.id}/file`;
    const whole = await fetch(where);
    const etag = String(whole.headers.get('etag'));
    await whole.arrayBuffer();
    const rest = await fetch(where, { headers: { Range: 'bytes=1000-', 'If-Range': etag } });
    expect([rest.status, Buffer.from(await rest.arrayBuffer()).equals(bytes.subarray(1000))]).toEqual([206, true]);
    const other = await fetch(where, { headers: { Range: 'bytes=1000-', 'If-Range': '"another"' } });
    expect([other.status, (await other.arrayBuffer()).byteLength]).toEqual([200, bytes.length]);
  });

  it.each(fileFormats.flatMap(({ id, depths }) => depths.map((depth) => [id, depth] as const)))(
    'of %s with %d bits is what it says',
    async (format, depth) => {
      const { job, bytes } = await fileOf({ format, depth });
      expect(bytes.subarray(0, 12).toString('latin1')).toMatch(FIRST_BYTES[format] as RegExp);
      const read = await sharp(bytes).metadata();
      expect([read.width, read.height]).toEqual([400, 600]);
      expect(read.depth).toBe(depth === 16 ? 'ushort' : 'uchar');
      expect(read.icc?.toString('latin1').replaceAll('\0', '')).toMatch(/sRGB/);
      const [a, b] = await Promise.all(
        [bytes, (await fileOf({ format: 'png' })).bytes].map((file) =>
          sharp(file, { ignoreIcc: true }).removeAlpha().toColourspace('srgb').resize(40, 60).raw({ depth: 'uchar' }).toBuffer(),
        ),
      );
      const off = [...(a as Buffer)].map((v, i) => Math.abs(v - ((b as Buffer)[i] as number)));
      expect(off.reduce((sum, v) => sum + v, 0) / off.length).toBeLessThan(depth === 8 && format !== 'png' ? 4 : 0.6);
      expect(job).toMatchObject({
        format,
        depth,
        fileName: `on its side - Made.${{ jpeg: 'jpg', png: 'png', tiff: 'tif', webp: 'webp', avif: 'avif' }[format]}`,
      });
    },
  );

  it.each([
    [{ edge: 300 }, [200, 300]],
    [{ box: { width: 300, height: 150 } }, [100, 150]],
    [{ megapixels: 0.06 }, [200, 300]],
    [{ edge: 5000 }, [400, 600]],
  ])('has the size that is asked for: %j', async (size, want) => {
    const { bytes } = await fileOf({ format: 'png', ...size });
    const { width, height } = await sharp(bytes).metadata();
    expect([width, height]).toEqual(want);
  });

  it('sharpened for its size has steeper edges than one that is not', async () => {
    const steep = async (sharpen: 'none' | 'screen' | 'print'): Promise<number> => {
      const { bytes } = await fileOf({ format: 'png', edge: 300, sharpen });
      const { data, info } = await sharp(bytes).removeAlpha().raw().toBuffer({ resolveWithObject: true });
      let sum = 0;
      for (let i = 3; i < data.length; i++) if (i % (info.width * 3) > 3) sum += Math.abs((data[i] as number) - (data[i - 3] as number));
      return sum;
    };
    const [none, screen, print] = [await steep('none'), await steep('screen'), await steep('print')];
    expect(screen).toBeGreaterThan(none);
    expect(print).toBeGreaterThan(screen);
  });

  it('in Display P3 says so, and has other numbers for the same colours', async () => {
    const { bytes } = await fileOf({ format: 'webp', gamut: 'display-p3' });
    expect((await sharp(bytes).metadata()).icc?.toString('latin1').replaceAll('\0', '')).toMatch(/P3/);
  });

  it.each(['jpeg', 'png', 'webp', 'avif'] as const)(
    'of %s carries over what the camera wrote, with or without the place, or not at all',
    async (format) => {
      const read = async (metadata: 'keep' | 'noplace' | 'strip'): Promise<{ text: string; exif: Record<string, unknown> | undefined }> => {
        const { bytes } = await fileOf({ format, metadata });
        const { exif } = await sharp(bytes).metadata();
        const parsed =
          exif &&
          ((await exifr.parse(Buffer.concat([exif.toString('latin1', 0, 4) === 'Exif' ? exif.subarray(6) : exif]), { gps: true })) as Record<
            string,
            unknown
          >);
        return { text: bytes.toString('latin1'), exif: parsed };
      };
      const kept = await read('keep');
      expect(kept.exif).toMatchObject({ Make: 'Box', Copyright: 'The puppeteer', latitude: expect.closeTo(48.133, 2) });
      expect(kept.exif?.['Orientation'] ?? 'Horizontal (normal)').toMatch(/normal|^1$/);
      expect(kept.text).toMatch(/Someplace/);
      const placeless = await read('noplace');
      expect(placeless.exif).toMatchObject({ Make: 'Box' });
      expect(placeless.exif).not.toHaveProperty('latitude');
      expect(placeless.text).toMatch(/the attic/);
      expect(placeless.text).not.toMatch(/Someplace|GPSLatitude=/);
      const none = await read('strip');
      expect(none.exif).toBeUndefined();
      expect(none.text).not.toMatch(/puppeteer|attic/);
    },
  );

  it('of TIFF carries it over too, in directories of its own, and its pixels stay', async () => {
    const read = async (metadata: 'keep' | 'noplace' | 'strip'): Promise<Record<string, unknown>> =>
      (await exifr.parse((await fileOf({ format: 'tiff', depth: 8, metadata })).bytes, { gps: true, exif: true })) as Record<string, unknown>;
    const kept = await read('keep');
    expect(kept).toMatchObject({ Make: 'Box', Copyright: 'The puppeteer', latitude: expect.closeTo(48.133, 2), DateTimeOriginal: expect.any(Date) });
    const placeless = await read('noplace');
    expect(placeless).toMatchObject({ Make: 'Box' });
    expect(placeless).not.toHaveProperty('latitude');
    expect(await read('strip')).not.toHaveProperty('Make');
    const [a, b] = await Promise.all(
      (['keep', 'strip'] as const).map(async (metadata) =>
        sharp((await fileOf({ format: 'tiff', depth: 16, metadata })).bytes)
          .raw({ depth: 'ushort' })
          .toBuffer(),
      ),
    );
    expect(Buffer.compare(a as Buffer, b as Buffer)).toBe(0);
  });

  it.each([
    [{ format: 'jpeg', quality: 85, edge: 800 }],
    [{ format: 'jpeg', quality: 60 }],
    [{ format: 'png', depth: 16 }],
    [{ format: 'webp', quality: 80 }],
  ] as const)('is told beforehand how large it will be, within 15 percent: %j', async (wish) => {
    const { body } = await ask<Estimate>('POST', '/exports/estimate', { versionId: version.id, ...wish });
    const { job, bytes } = await fileOf(wish);
    expect([body.width, body.height]).toEqual([job.width, job.height]);
    expect(Math.abs(body.bytes / bytes.length - 1)).toBeLessThan(0.15);
  });

  it.each([
    [{ format: 'jpeg', depth: 16 }, /JPEG holds 8 bits/],
    [{ format: 'png', quality: 80 }, /PNG has no quality/],
    [{ format: 'gif' }, /Must be one of: jpeg/],
    [{ format: 'jpeg', edge: 100, megapixels: 1 }, /one of edge, box and megapixels/],
    [{ format: 'jpeg', fileName: '{who}' }, /“{who}” is no word/],
    [{ format: 'jpeg', edge: 2 }, /at least 64/],
  ])('that cannot be is refused with a sentence: %j', async (wish, why) => {
    const { status, body } = await order(ask, { versionId: version.id, ...wish });
    expect(status).toBe(400);
    expect(body.message).toMatch(why);
  });
});

it('the size of a large file is told beforehand too, from squares of it', async () => {
  const [width, height] = [1800, 1200];
  const pixels = Buffer.alloc(width * height * 3);
  for (let i = 0; i < pixels.length; i++) {
    const [x, y] = [Math.floor(i / 3) % width, Math.floor(i / 3 / width)];
    // Smooth above, busier and busier below.
    pixels[i] = 128 + 60 * Math.sin(x / 90) + ((((x * 7919) ^ (y * 104729)) % 61) * y) / height - 30;
  }
  const bytes = await sharp(pixels, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
  const large = (await upload(server.address, bytes, 'large.png')).body['photo'] as unknown as Photo;
  const wish = { versionId: large.versions[0]?.id, format: 'jpeg', quality: 88 };
  const { body } = await ask<Estimate>('POST', '/exports/estimate', wish);
  const made = await finished((await order(ask, wish)).body);
  expect(Math.abs(body.bytes / made.bytes.length - 1)).toBeLessThan(0.15);
});

describe('several files', () => {
  it('are made in one go, named by a pattern, and sent as one archive', async () => {
    const wish = { format: 'jpeg', edge: 100, fileName: '{number} {version}, {width}x{height} {taken}' };
    const { body } = await ask<{ exports: ExportJob[] }>('POST', '/exports', { versionIds: [version.id, photo.versions[0]?.id], wish });
    expect(body.exports.map(({ fileName }) => fileName)).toEqual(['001 Made 67x100 2024-05-06.jpg', '002 Version 1 67x100 2024-05-06.jpg']);
    await Promise.all(body.exports.map(finished));
    const zip = Buffer.from(
      await (await fetch(`${server.address}/api/exports/archive?ids=${body.exports.map(({ id }) => id).join(',')}`)).arrayBuffer(),
    );
    const files = await readZip(zip, { entries: 10, entryBytes: 1e7, allBytes: 1e7 });
    expect([...files.keys()]).toEqual(['001 Made 67x100 2024-05-06.jpg', '002 Version 1 67x100 2024-05-06.jpg']);
    for (const bytes of files.values()) expect((await sharp(bytes).metadata()).format).toBe('jpeg');
  });

  it('can be wished for by presets of one’s own', async () => {
    const wish = { format: 'webp', quality: 77, edge: 1200 };
    const { body } = await ask<{ id: string }>('POST', '/presets', { name: 'For the web', wish });
    await ask('POST', '/presets', { name: 'For the web', wish: { ...wish, quality: 70 } });
    const all = (await ask<{ presets: { id: string; wish: object }[] }>('GET', '/presets')).body.presets;
    expect(all).toMatchObject([{ name: 'For the web', wish: { quality: 70, metadata: 'noplace' } }]);
    expect((await ask('DELETE', `/presets/${body.id}`)).status).toBe(204);
    expect((await ask<{ presets: unknown[] }>('GET', '/presets')).body.presets).toEqual([]);
  });
});

it('leaves nothing unfinished behind', async () => {
  expect(await fs.readdir(path.join(server.folder, 'data/unfinished'))).toEqual([]);
});
