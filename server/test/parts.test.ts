import sharp from 'sharp';
import { asItCame, emptyStack, newLayer, readPam, type Geometry, type KindLayer, type Stack } from '@bexlen/core';
import type { ExportJob, Photo } from '@bexlen/api';
import { serverForAll, slope, upload } from './server';

const server = serverForAll(2e6);

const raw = { width: 90, height: 60, channels: 3 } as const;
const words = new Uint16Array(90 * 60 * 3).map((_, i) => (i * 977) & 65535);
const flat = (): Promise<Buffer> => sharp(slope(90, 60), { raw }).png().toBuffer();
const deep = (): Promise<Buffer> => sharp(words, { raw }).toColourspace('rgb16').png().toBuffer();

const idOf = async (bytes: Buffer, name: string): Promise<Photo> => (await upload(server.address, bytes, name)).body['photo'] as unknown as Photo;
const pixels = (id: string, query: string): Promise<Response> => fetch(`${server.address}/api/photos/${id}/pixels?${query}`);

async function exported(photo: Photo, stack: Stack, wish: object): Promise<Buffer> {
  const send = async <T>(path: string, body: unknown): Promise<T> =>
    (await (
      await fetch(`${server.address}/api${path}`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) })
    ).json()) as T;
  const version = await send<{ id: string }>(`/photos/${photo.id}/versions`, { name: 'A', steps: [{ words: 'Begun', stack }], cursor: 0 });
  const [job] = (await send<{ exports: [ExportJob] }>('/exports', { versionIds: [version.id], wish })).exports;
  for (;;) {
    const { exports } = (await (await fetch(`${server.address}/api/exports`)).json()) as { exports: ExportJob[] };
    const now = exports.find(({ id }) => id === job.id);
    if (now?.state === 'failed') throw new Error(now.fault?.message);
    if (now?.state === 'done') return Buffer.from(await (await fetch(`${server.address}/api/exports/${job.id}/file`)).arrayBuffer());
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

describe('a part of a photo', () => {
  it('is the photo’s own pixels, at its own depth', async () => {
    const [shallow, sixteen] = [await idOf(await flat(), 'flat.png'), await idOf(await deep(), 'deep.png')];
    for (const [photo, size, whole] of [
      [shallow, 1, slope(90, 60)],
      [sixteen, 2, Buffer.from(words.buffer)],
    ] as const) {
      const answer = await pixels(photo.id, 'x=10&y=20&w=30&h=15&edge=64');
      expect(answer.status).toBe(200);
      const part = readPam(new Uint8Array(await answer.arrayBuffer()));
      expect(part.layout).toEqual({ width: 30, height: 15, depth: size * 8, channels: 3 });
      for (let y = 0; y < 15; y++) {
        const from = ((20 + y) * 90 + 10) * 3 * size;
        expect(Buffer.from(part.pixels.subarray(y * 90 * size, (y + 1) * 90 * size))).toEqual(whole.subarray(from, from + 90 * size));
      }
    }
  });

  it('is refused where it hangs over, with the size of the photo', async () => {
    const { id } = await idOf(await flat(), 'flat.png');
    for (const query of ['x=80&y=0&w=30&h=15&edge=64', 'x=0&y=0&w=0&h=15&edge=64', 'x=-1&y=0&w=5&h=5&edge=64', 'x=0&y=0&w=5&h=5']) {
      const answer = await pixels(id, query);
      expect(answer.status).toBe(400);
      expect(((await answer.json()) as { code: string }).code).toBe('bad-request');
    }
  });
});

describe('a finished file', () => {
  const cropped: Geometry = { ...asItCame, turn: 90, crop: { x: 0.5, y: 0.1, width: 0.5, height: 0.3 } };

  it('has the size of its crop, turned, and the photo’s own pixels in it', async () => {
    const photo = await idOf(await deep(), 'deep.png');
    const file = await exported(photo, { ...emptyStack, geometry: cropped }, { format: 'png', depth: 16 });
    const { data, info } = await sharp(file, { ignoreIcc: true })
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([30, 27]);
    const made = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
    // Pixel (x, y) of the turned photo is pixel (y, 59 - x) of the photo.
    const at = (x: number, y: number): number => words[(59 - (30 + x)) * 270 + (9 + y) * 3] as number;
    for (const [x, y] of [
      [0, 0],
      [29, 26],
      [7, 19],
    ] as const)
      expect(Math.abs((made[(y * 30 + x) * 3] as number) - at(x, y))).toBeLessThanOrEqual(1);
  });

  it('of a version whose table is gone says so, and what to do', async () => {
    const photo = await idOf(await flat(), 'flat.png');
    const plain = newLayer('cube', 'c1') as KindLayer;
    const layer: KindLayer = { ...plain, params: { file: `${'0'.repeat(24)}:gone.cube` } };
    await expect(exported(photo, { ...emptyStack, layers: [layer] }, { format: 'png', depth: 8 })).rejects.toThrow('“gone.cube” is not kept here');
  });
});

describe('colour tables', () => {
  const send = (text: string, name = 'a.cube'): Promise<Response> =>
    fetch(`${server.address}/api/cubes?name=${encodeURIComponent(name)}`, { method: 'POST', headers: { 'Content-Type': 'text/plain' }, body: text });
  const curve = 'LUT_1D_SIZE 2\n0 0 0\n1 1 1\n';

  it('are kept by their content and given back as they came', async () => {
    const { name } = (await (await send(curve)).json()) as { name: string };
    expect(name).toMatch(/^[0-9a-f]{24}:a\.cube$/);
    expect(await (await fetch(`${server.address}/api/cubes/${encodeURIComponent(name)}`)).text()).toBe(curve);
  });

  it('are refused where they are broken, nameless or unknown', async () => {
    expect((await send('LUT_1D_SIZE 2\n0 0 0\n')).status).toBe(400);
    expect((await send(curve, '')).status).toBe(400);
    for (const name of ['nothing', '../../database:x', `${'f'.repeat(24)}:x`])
      expect((await fetch(`${server.address}/api/cubes/${encodeURIComponent(name)}`)).status).toBe(404);
    expect((await fetch(`${server.address}/api/cubes`)).status).toBe(405);
  });
});
