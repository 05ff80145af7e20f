import { buffer } from 'node:stream/consumers';
import sharp from 'sharp';
import { emptyStack } from '@bexlen/core';
import type { ExportJob, Photo, Version } from '@bexlen/api';
import { readZip, writeZip } from '@bexlen/render/files/zips';
import { asking, order, treated } from './asking';
import { serverForAll, upload } from './server';

const server = serverForAll(64e6);
const { ask, finished } = asking(() => server.address);
let photo: Photo;
let version: Version;

beforeAll(async () => {
  const pixels = Buffer.alloc(300 * 450 * 3);
  for (let i = 0; i < pixels.length; i++)
    pixels[i] = 128 + 60 * Math.sin((Math.floor(i / 3) % 300) / 30 + (i % 3)) + 40 * Math.cos(Math.floor(i / 900) / 25);
  const bytes = await sharp(pixels, { raw: { width: 300, height: 450, channels: 3 } })
    .withExif({ IFD2: { DateTimeOriginal: '2024:05:06 07:08:09' } })
    .jpeg({ quality: 95 })
    .toBuffer();
  photo = (await upload(server.address, bytes, 'waves.jpg')).body['photo'] as unknown as Photo;
  version = (await ask<Version>('POST', `/photos/${photo.id}/versions`, { name: 'Made', steps: [{ words: 'x', stack: treated }], cursor: 0 })).body;
});

describe('an OpenRaster file', () => {
  it('gives the merged picture when its layers are laid over each other as it says', async () => {
    const begun = await ask<ExportJob>('POST', '/exports/layers', { versionId: version.id });
    const { bytes, job } = await finished(begun.body);
    expect(job.fileName).toBe('waves - Made.ora');
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
    expect(back).toMatchObject({ name: 'came back', width: 300, height: 450 });
    const made = (await ask<Version>('GET', `/versions/${back.versions[0]?.id}`)).body.steps[0]?.stack.layers;
    expect(made).toMatchObject([
      { kind: 'picture', name: 'First', strength: 1, blend: 'normal' },
      { kind: 'picture', name: 'Over', strength: 0.4, blend: 'multiply' },
      { kind: 'picture', name: 'Pushed', strength: 0.5 },
    ]);
    const job = await finished((await order(ask, { versionId: back.versions[0]?.id, format: 'png' })).body);
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
  it('has its pages, names and values in it, as a decoder of PDF finds them', async () => {
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
