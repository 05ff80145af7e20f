import fs from 'node:fs/promises';
import path from 'node:path';
import exifr from 'exifr';
import sharp from 'sharp';
import { emptyStack, newLayer, newPart, emptyMask, type Stack } from '@bexlen/core';
import type { Estimate, ExportJob, ExportWish, Photo, Version } from '../src/api';
import { fileFormats } from '../src/api';
import { buffer } from 'node:stream/consumers';
import { readZip, writeZip } from '../src/files/zips';
import { serverForAll, upload } from './server';

const server = serverForAll(64e6);
let photo: Photo;
let version: Version;

async function ask<T>(method: string, url: string, body?: unknown): Promise<{ status: number; body: T & { code?: string; message?: string } }> {
  const answer = await fetch(`${server.address}/api${url}`, {
    method,
    ...(body !== undefined && { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  return { status: answer.status, body: text ? JSON.parse(text) : {} };
}

const XMP = `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" xmlns:exif="http://ns.adobe.com/exif/1.0/" photoshop:City="Someplace" exif:GPSLatitude="48,1N" dc:source="the attic"/></rdf:RDF></x:xmpmeta>`;

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
  const stack: Stack = {
    ...emptyStack,
    layers: [
      { ...newLayer('tone', 'a'), name: 'First', params: { ...newLayer('tone', 'a').params, contrast: -0.3 } },
      {
        ...newLayer('fill', 'b'),
        name: 'Over',
        blend: 'multiply',
        strength: 0.4,
        params: { hue: 60, amount: 0.3, lightness: 0.7 },
        mask: { ...emptyMask, parts: [newPart('oval', 'o')] },
      },
      { ...newLayer('blur', 'c'), name: 'Pushed', blend: 'push', strength: 0.5 },
    ],
  };
  version = (await ask<Version>('POST', `/photos/${photo.id}/versions`, { name: 'Made', steps: [{ words: 'x', stack }], cursor: 0 })).body;
});

async function fileOf(given: Omit<ExportWish, 'versionId'>): Promise<{ job: ExportJob; bytes: Buffer }> {
  const { body } = await ask<ExportJob>('POST', '/exports', { versionId: version.id, ...given });
  return finished(body);
}

async function finished(begun: ExportJob): Promise<{ job: ExportJob; bytes: Buffer }> {
  for (let i = 0; i < 600; i++) {
    const job = (await ask<{ exports: ExportJob[] }>('GET', '/exports')).body.exports.find(({ id }) => id === begun.id) as ExportJob;
    if (job.state === 'failed') throw new Error(job.fault?.message);
    if (job.state === 'done') return { job, bytes: Buffer.from(await (await fetch(`${server.address}/api/exports/${job.id}/file`)).arrayBuffer()) };
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('it took too long');
}

const FIRST_BYTES: Record<string, RegExp> = {
  jpeg: /^\xff\xd8\xff/,
  png: /^\x89PNG/,
  tiff: /^II\*\0/,
  webp: /^RIFF....WEBP/s,
  avif: /^....ftypavif/s,
};

describe('a file', () => {
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
    [{ format: 'gif' }, /One of these/],
    [{ format: 'jpeg', edge: 100, megapixels: 1 }, /one of edge, box and megapixels/],
    [{ format: 'jpeg', fileName: '{who}' }, /“{who}” is no word/],
    [{ format: 'jpeg', edge: 2 }, /at least 64/],
  ])('that cannot be is refused with a sentence: %j', async (wish, why) => {
    const { status, body } = await ask('POST', '/exports', { versionId: version.id, ...wish });
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
  const made = await finished((await ask<ExportJob>('POST', '/exports', wish)).body);
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

describe('an OpenRaster file', () => {
  it('gives the merged picture when its layers are laid over each other as it says', async () => {
    const begun = await ask<ExportJob>('POST', '/exports/layers', { versionId: version.id });
    const { bytes, job } = await finished(begun.body);
    expect(job.fileName).toBe('on its side - Made.ora');
    expect(bytes.subarray(30, 54).toString()).toBe('mimetypeimage/openraster');
    const files = await readZip(bytes, { entries: 100, entryBytes: 1e8, allBytes: 1e8 });
    const xml = files.get('stack.xml')?.toString() ?? '';
    const layers = [
      ...xml.matchAll(/<layer name="([^"]*)" src="([^"]*)"[^>]*?(?:opacity="([^"]*)" visibility="visible" composite-op="([^"]*)")?\/>/g),
    ].map(([, name, src, opacity = '1', operator = 'svg:src-over']) => ({ name, src, opacity: Number(opacity), operator }));
    expect(layers.map(({ name, opacity, operator }) => [name, opacity, operator])).toEqual([
      ['Pushed', 0.5, 'svg:src-over'],
      ['Over', 0.4, 'svg:multiply'],
      ['First', 1, 'svg:src-over'],
      ['Photo', 1, 'svg:src-over'],
    ]);
    const raw = (name: string): Promise<Buffer> => sharp(files.get(name)).ensureAlpha().raw().toBuffer();
    let under = await raw('data/photo.png');
    for (const { src, opacity, operator } of layers.reverse().slice(1)) {
      const over = await raw(src as string);
      under = Buffer.from(
        under.map((v, i) => {
          if (i % 4 === 3) return 255;
          const [a, s] = [((over[i | 3] as number) / 255) * opacity, over[i] as number];
          const blended = operator === 'svg:multiply' ? (v * s) / 255 : s;
          return Math.round(v + (blended - v) * a);
        }),
      );
    }
    const merged = await raw('mergedimage.png');
    const worst = merged.reduce((most, v, i) => Math.max(most, Math.abs(v - (under[i] as number))), 0);
    expect(worst).toBeLessThanOrEqual(3);
    const thumb = await sharp(files.get('Thumbnails/thumbnail.png')).metadata();
    expect(Math.max(thumb.width, thumb.height)).toBe(256);
  });
});

describe('an OpenRaster file that comes in', () => {
  const PIXELS = { raw: { width: 60, height: 40, channels: 4 } } as const;
  const png = (of: (i: number) => number): Promise<Buffer> =>
    sharp(Buffer.from(Array.from({ length: 60 * 40 * 4 }, (_, i) => of(i))), PIXELS)
      .png()
      .toBuffer();
  const zipOf = (files: Record<string, Buffer | string>): Promise<Buffer> =>
    buffer(writeZip(Object.entries(files).map(([name, from]) => ({ name, from: Buffer.from(from as string), stored: true }))));
  const photos = async (): Promise<Photo[]> => (await ask<{ photos: Photo[] }>('GET', '/photos')).body.photos;
  const oraOf = (xml: string, files: Record<string, Buffer> = {}): Promise<Buffer> =>
    zipOf({ mimetype: 'image/openraster', 'stack.xml': xml, ...files });

  it('that was written here looks as it did', async () => {
    const { bytes } = await finished((await ask<ExportJob>('POST', '/exports/layers', { versionId: version.id })).body);
    const { status, body } = await upload(server.address, bytes, 'came back.ora');
    expect(status).toBe(201);
    const back = body['photo'] as unknown as Photo;
    expect(back).toMatchObject({ name: 'came back', width: 400, height: 600 });
    const made = (await ask<Version>('GET', `/versions/${back.versions[0]?.id}`)).body.steps[0]?.stack.layers;
    expect(made).toMatchObject([
      { kind: 'picture', name: 'First', strength: 1, blend: 'normal' },
      { kind: 'picture', name: 'Over', strength: 0.4, blend: 'multiply' },
      { kind: 'picture', name: 'Pushed', strength: 0.5 },
    ]);
    const job = await finished((await ask<ExportJob>('POST', '/exports', { versionId: back.versions[0]?.id, format: 'png' })).body);
    const merged = (await readZip(bytes, { entries: 100, entryBytes: 1e8, allBytes: 1e8 })).get('mergedimage.png');
    const [a, b] = await Promise.all([job.bytes, merged].map((file) => sharp(file, { ignoreIcc: true }).removeAlpha().raw().toBuffer()));
    const worst = (a as Buffer).reduce((most, v, i) => Math.max(most, Math.abs(v - ((b as Buffer)[i] as number))), 0);
    expect(worst).toBeLessThanOrEqual(4);
    const rolls = (await ask<{ rolls: { id: string; name: string; photos: number }[] }>('GET', '/rolls')).body.rolls;
    expect(rolls[0]).toMatchObject({ name: 'came back' });
  });

  it('says what it does not know', async () => {
    const layer = await png((i) => (i % 4 === 3 ? 255 : i % 199));
    const odd = await png((i) => (i % 4 === 3 ? 128 : i % 211));
    const xml =
      '<image w="60" h="40"><stack><layer src="b.png" name="Odd" composite-op="svg:xor" opacity="0.5" x="3" y="4" visibility="hidden"/><layer src="a.png"/></stack></image>';
    const { status, body } = await upload(server.address, await oraOf(xml, { 'a.png': layer, 'b.png': odd }), 'odd.ora');
    expect(status).toBe(201);
    expect(JSON.stringify(body['notes'])).toMatch(/“Odd” is mixed by svg:xor, which is not known here/);
    const photo = body['photo'] as unknown as Photo;
    const [picture] = (await ask<Version>('GET', `/versions/${photo.versions[0]?.id}`)).body.steps[0]?.stack.layers ?? [];
    expect(picture).toMatchObject({ on: false, strength: 0.5, params: { x: 3 / 60, y: 4 / 60, size: 1 } });
  });

  it.each<[string, string, Record<string, Buffer>, RegExp]>([
    [
      'a layer without its picture',
      '<image w="60" h="40"><stack><layer src="gone.png"/></stack></image>',
      {},
      /layer\[1\]: Its picture gone.png is not in the file/,
    ],
    ['a wrong size', '<image w="-6" h="40"><stack/></image>', {}, /size of the picture is wrong/],
    ['entities', '<!DOCTYPE image [<!ENTITY a "b">]><image w="6" h="4"><stack/></image>', {}, /entities/],
    ['no XML', '<image', {}, /not XML/],
    [
      'a layer that is no picture',
      '<image w="60" h="40"><stack><layer src="a.png"/></stack></image>',
      { 'a.png': Buffer.from('hello') },
      /cannot be read|not a picture/,
    ],
    ['nesting', `<image w="6" h="4">${'<stack>'.repeat(12)}${'</stack>'.repeat(12)}</image>`, {}, /nested more than/],
  ])('with %s is refused, and nothing is taken in', async (_, xml, files, why) => {
    const before = [await photos(), (await ask<{ rolls: unknown[] }>('GET', '/rolls')).body.rolls];
    const { status, body } = await upload(server.address, await oraOf(xml, files), 'bad.ora');
    expect(status).toBeGreaterThanOrEqual(400);
    expect(body.message).toMatch(why);
    expect([await photos(), (await ask<{ rolls: unknown[] }>('GET', '/rolls')).body.rolls]).toEqual(before);
  });
});

describe('rolls', () => {
  it('hold photos, are renamed, and go without them', async () => {
    const made = (await ask<{ rolls: { id: string; name: string; photos: number }[] }>('POST', '/rolls', { name: 'Winter', photos: [photo.id] })).body
      .rolls;
    expect(made[0]).toMatchObject({ name: 'Winter', photos: 1 });
    const id = made[0]?.id as string;
    await ask('PATCH', `/rolls/${id}`, { name: 'Winter town' });
    expect((await ask<Photo>('GET', `/photos/${photo.id}`)).body).toMatchObject({
      rollId: id,
      takenAt: expect.stringMatching(/^2024-05-06T07:08:09/),
    });
    await ask('POST', '/rolls/move', { photos: [photo.id], rollId: null });
    expect((await ask<Photo>('GET', `/photos/${photo.id}`)).body.rollId).toBeNull();
    expect((await ask('POST', '/rolls/move', { photos: [photo.id], rollId: 'gone' })).status).toBe(404);
    expect((await ask('DELETE', `/rolls/${id}`)).status).toBe(204);
  });
});

describe('a contact sheet', () => {
  it('has its pages, names and values in it, as a reader of PDF finds them', async () => {
    const cells = Array.from({ length: 14 }, (_, i) => ({ photoId: photo.id, stack: emptyStack, name: `Picture ${i + 1}`, line: `contrast ${i} %` }));
    const begun = await ask<ExportJob>('POST', '/exports/sheet', { title: 'Proofs of May', page: 'letter', upright: true, columns: 3, cells });
    const { bytes } = await finished(begun.body);
    const { getDocument } = await import('pdfjs-dist/legacy/build/pdf.mjs');
    const pdf = await getDocument({ data: new Uint8Array(bytes), verbosity: 0 }).promise;
    const page = await pdf.getPage(1);
    expect(page.view.slice(2)).toEqual([612, 792]);
    let text = '';
    for (let n = 1; n <= pdf.numPages; n++)
      text += (await (await pdf.getPage(n)).getTextContent()).items.map((item) => ('str' in item ? item.str : '')).join(' ');
    expect(pdf.numPages).toBe(2);
    for (const words of ['Proofs of May', '1 / 2', '2 / 2', ...cells.flatMap(({ name, line }) => [name, line])]) expect(text).toContain(words);
  });
});

it('leaves nothing unfinished behind', async () => {
  expect(await fs.readdir(path.join(server.folder, 'data/unfinished'))).toEqual([]);
});
