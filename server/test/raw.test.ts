import { asShot, emptyStack, readPam, type Development } from '@bexlen/core';
import { differenceCiede2000 } from 'culori';
import path from 'node:path';
import sharp from 'sharp';
import type { ExportJob, Photo } from '@bexlen/api';
import { asking, order } from './asking';
import { madeDng } from './dng';
import { filesIn, serverForAll, upload } from './server';
import { sent as sentTo } from './upload';

const server = serverForAll(64e6);
const { ask, finished } = asking(() => server.address);

const SIDE = 40;
/** Linear light of squares: greys and colours that a sensor holds, then a white and a warm lamp of which parts are over. */
const SCENE = [
  [0.2, 0.2, 0.2],
  [0.5, 0.1, 0.1],
  [0.1, 0.4, 0.1],
  [0.1, 0.1, 0.5],
  [0.6, 0.6, 0.6],
  [0.6, 0.4, 0.1],
  [1.6, 1.6, 1.6],
  [1.5, 1.15, 0.75],
] as const;
const FILLED = 0.9;
const [WIDTH, HEIGHT] = [SIDE * SCENE.length, 2 * SIDE];
const dng = (): Buffer => madeDng(WIDTH, HEIGHT, (x) => SCENE[Math.floor(x / SIDE)] ?? [0, 0, 0], FILLED);

const encoded = (v: number): number => 255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
/** Linear sRGB to Display P3 (CSS Color Module Level 4), encoded. */
type Light = readonly [number, number, number];
const inP3 = ([r, g, b]: Light, share = 1): number[] =>
  [0.8225 * r + 0.1775 * g, 0.0332 * r + 0.9668 * g, 0.0171 * r + 0.0724 * g + 0.9105 * b].map((v) => encoded(share * FILLED * v));

const squaresOf = (values: ArrayLike<number>, most: number): number[][] =>
  SCENE.map((_, i) => [0, 1, 2].map((c) => (255 * (values[(SIDE * WIDTH + i * SIDE + SIDE / 2) * 3 + c] as number)) / most));

describe('a raw file', () => {
  let photo: Photo;
  beforeAll(async () => {
    photo = (await upload(server.address, dng(), 'made.dng')).body['photo'] as unknown as Photo;
  });

  const squaresWith = async (development?: Development): Promise<number[][]> => {
    const stack = { ...emptyStack, ...(development && { development }) };
    const { body: version } = await ask<{ id: string }>('POST', `/photos/${photo.id}/versions`, {
      name: 'A',
      steps: [{ words: 'x', stack }],
      cursor: 0,
    });
    const { body } = await order(ask, { versionId: version.id, format: 'png', depth: 8 });
    const { data } = await sharp((await finished(body as ExportJob)).bytes, { ignoreIcc: true })
      .raw()
      .toBuffer({ resolveWithObject: true });
    return squaresOf(data, 255);
  };

  it('is developed into 16 bits of Display P3, with all the light that the sensor saw', async () => {
    expect(photo).toMatchObject({ format: 'DNG', gamut: 'display-p3', depth: 16, width: WIDTH, height: HEIGHT, headroom: 2 });
    const sent = await fetch(`${server.address}/api/photos/${photo.id}/pixels?edge=1024`);
    const { layout, pixels } = readPam(new Uint8Array(await sent.arrayBuffer()));
    expect(layout).toMatchObject({ gamut: 'display-p3', depth: 16, headroom: 2 });
    const squares = squaresOf(new Uint16Array(pixels.slice().buffer), 65535);
    SCENE.slice(0, 6).forEach((scene, i) => inP3(scene, 0.5).forEach((v, c) => expect(Math.abs((squares[i]?.[c] ?? 0) - v)).toBeLessThan(3)));
  });

  it('is shown as shot: its colours as they were, white what is over in all channels, with its hue what is over in some', async () => {
    const squares = await squaresWith();
    // The brightest of them lies on the shoulder.
    [0, 1, 2, 3, 5].forEach((i) => inP3(SCENE[i] as Light).forEach((v, c) => expect(Math.abs((squares[i]?.[c] ?? 0) - v)).toBeLessThan(5)));
    const [white = [], lamp = []] = squares.slice(6);
    expect(Math.max(...white) - Math.min(...white)).toBeLessThan(3);
    expect(Math.min(...white)).toBeGreaterThan(225);
    const [r = 0, g = 0, b = 0] = lamp;
    expect(r > g + 8 && g > b + 8).toBe(true);
  });

  it('is developed anew by a version: light, its colour, highlights', async () => {
    const darker = await squaresWith({ ...asShot, light: -1 });
    inP3(SCENE[4], 0.5).forEach((v, c) => expect(Math.abs((darker[4]?.[c] ?? 0) - v)).toBeLessThan(3));
    const [warm, plain] = [await squaresWith({ ...asShot, warmth: 0.5 }), await squaresWith()];
    expect((warm[0]?.[0] ?? 0) - (warm[0]?.[2] ?? 0)).toBeGreaterThan((plain[0]?.[0] ?? 0) - (plain[0]?.[2] ?? 0) + 10);
    const cut = await squaresWith({ ...asShot, recovery: 0 });
    expect(Math.min(...(cut[6] ?? []))).toBeGreaterThan(252);
    const thumb = Buffer.from(await (await fetch(`${server.address}/api/photos/${photo.id}/thumb`)).arrayBuffer());
    const { data } = await sharp(thumb, { ignoreIcc: true }).raw().toBuffer({ resolveWithObject: true });
    plain[0]?.forEach((v, c) => expect(Math.abs((squaresOf(data, 255)[0]?.[c] ?? 0) - v)).toBeLessThan(6));
  });

  it('is written to files with its profile, and developed anew where that is lost', async () => {
    const { body } = await order(ask, { versionId: photo.versions[0]?.id, format: 'png' });
    const { bytes } = await finished(body as ExportJob);
    const { data } = await sharp(bytes, { ignoreIcc: true }).raw().toBuffer({ resolveWithObject: true });
    inP3(SCENE[0]).forEach((v, c) => expect(Math.abs((squaresOf(data, 255)[0]?.[c] ?? 0) - v)).toBeLessThan(4));
    const { rm } = await import('node:fs/promises');
    for (const file of await filesIn(server.folder)) if (file.includes('/derived/')) await rm(file);
    const again = await fetch(`${server.address}/api/photos/${photo.id}/pixels?x=0&y=0&w=40&h=40&edge=40`);
    expect(again.status).toBe(200);
    expect(readPam(new Uint8Array(await again.arrayBuffer())).layout).toMatchObject({ width: 40, depth: 16, gamut: 'display-p3', headroom: 2 });
    expect((await fetch(`${server.address}/api/photos/${photo.id}/thumb`)).status).toBe(200);
  });

  it('comes as near to the picture that it was made from as a mosaic can', async () => {
    const [width, height] = [600, 400];
    const { data: from } = await sharp(path.join(import.meta.dirname, '../../demo/workbench.jpg'))
      .resize(width, height)
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const linear = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
    const scene = (x: number, y: number): Light => [0, 1, 2].map((c) => linear((from[3 * (y * width + x) + c] as number) / 255)) as unknown as Light;
    const taken = (await upload(server.address, madeDng(width, height, scene, FILLED), 'bench.dng')).body['photo'] as unknown as Photo;
    const sent = await fetch(`${server.address}/api/photos/${taken.id}/pixels?edge=1024`);
    const { pixels } = readPam(new Uint8Array(await sent.arrayBuffer()));
    const seen = new Uint16Array(pixels.slice().buffer);
    /** Display P3 to linear sRGB (CSS Color Module Level 4). */
    const inSrgb = ([r, g, b]: Light): Light => [1.2249 * r - 0.2249 * g, -0.0421 * r + 1.0421 * g, -0.0196 * r - 0.0786 * g + 1.0983 * b];
    const found = Array.from({ length: width * height }, (_, i) =>
      inSrgb([0, 1, 2].map((c) => linear((seen[3 * i + c] as number) / 65535)) as unknown as Light),
    );
    const wanted = Array.from({ length: width * height }, (_, i) => scene(i % width, Math.floor(i / width)));
    const sum = (all: readonly Light[]): number => all.reduce((whole, [, g]) => whole + g, 0);
    const exposure = sum(wanted) / sum(found);
    const distance = differenceCiede2000();
    const colour = (rgb: Light, by: number) => {
      const [r = 0, g = 0, b = 0] = rgb.map((v) => Math.min(1, Math.max(0, encoded(by * v) / 255)));
      return { mode: 'rgb' as const, r, g, b };
    };
    const all = wanted.map((rgb, i) => distance(colour(rgb, 1), colour(found[i] as Light, exposure)));
    expect(all.reduce((a, b) => a + b, 0) / all.length).toBeLessThan(3);
  });

  it('shows the picture that its camera stored as soon as it has arrived', async () => {
    const stored = {
      jpeg: await sharp({ create: { width: 320, height: 240, channels: 3, background: '#a05030' } })
        .jpeg()
        .toBuffer(),
      width: 320,
      height: 240,
    };
    const preview = async (file: Buffer, name: string): Promise<Response> => {
      const { where } = await sentTo(server.address, file, name);
      return fetch(`${where}/preview`);
    };
    const sent = await preview(
      madeDng(400, 300, () => SCENE[1], FILLED, { preview: stored }),
      'stored.dng',
    );
    expect(sent.headers.get('content-type')).toBe('image/jpeg');
    const { data, info } = await sharp(Buffer.from(await sent.arrayBuffer()))
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(info).toMatchObject({ width: 320, height: 240 });
    [160, 80, 48].forEach((v, c) => expect(Math.abs((data[c] as number) - v)).toBeLessThan(3));
    expect((await preview(dng(), 'plain.dng')).status).toBe(404);
    expect((await preview(dng().subarray(0, 150), 'cut.dng')).status).toBe(415);
    expect((await preview(stored.jpeg, 'picture.jpg')).status).toBe(404);
  });

  it.each([
    ['that is cut off in its head', () => dng().subarray(0, 150)],
    ['that is something else', () => Buffer.from('no raw file at all, by its contents')],
    ['that is empty of light and claims to be huge', () => hugeClaim()],
  ])('%s is refused with a sentence, and leaves nothing', async (_, file) => {
    const before = await filesIn(server.folder);
    const { status, body } = await upload(server.address, file(), 'strange.dng');
    expect([status, body]).toEqual([
      expect.any(Number),
      expect.objectContaining({ code: expect.stringMatching(/unsupported-format|too-many-pixels/) as string }),
    ]);
    expect(body.message).toMatch(/^strange\.dng .*\.$/);
    expect(body.hint).toMatch(/\.$/);
    expect(await filesIn(server.folder)).toEqual(before);
  });
});

/** Width and height of the head, over what may be worked on. */
function hugeClaim(): Buffer {
  const file = dng();
  const first = file.readUInt32LE(4) + 2;
  for (let at = first; at < first + 12 * 20; at += 12) if ([256, 257].includes(file.readUInt16LE(at))) file.writeUInt32LE(60_000, at + 8);
  return file;
}
