import fs from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { decode, encode } from '@bexlen/core';
import { decodePart, inStrips, type Source } from '@bexlen/render/decode/decode';
import { newFolder, slope } from './server';

const [width, height] = [90, 60];
const raw = { width, height, channels: 3 } as const;
let folder: string;
beforeAll(async () => void (folder = await newFolder()));
afterAll(() => fs.rm(folder, { recursive: true }));

/** The same picture in a file whose pixels lie as an orientation says. */
async function file(orientation: number, depth: 8 | 16): Promise<Source> {
  const at = path.join(folder, `${orientation}-${depth}.png`);
  const words = new Uint16Array(width * height * 3).map((_, i) => (i * 977) & 65535);
  const image = depth === 8 ? sharp(slope(width, height), { raw }) : sharp(words, { raw }).toColourspace('rgb16');
  await image.withMetadata({ orientation }).png().toFile(at);
  return { file: at, depth, alpha: false };
}

describe.each([1, 2, 3, 4, 5, 6, 7, 8])('a file of orientation %d', (orientation) => {
  it.each([8, 16] as const)('is cut and made smaller as if it stood upright: %d bits', async (depth) => {
    const source = await file(orientation, depth);
    // What the library makes of it when it turns it first.
    const whole = sharp(source.file).autoOrient();
    const upright = await (depth === 16 ? sharp(source.file, { ignoreIcc: true }).autoOrient().toColourspace('rgb16') : whole)
      .raw({ depth: depth === 16 ? 'ushort' : 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const part = { x: 7, y: 11, w: 31, h: 23 };
    const { layout, pixels } = await decodePart(source, part, 100);
    expect(layout).toMatchObject({ width: 31, height: 23, depth });
    const size = (3 * depth) / 8;
    for (let y = 0; y < part.h; y++) {
      const from = ((part.y + y) * upright.info.width + part.x) * size;
      expect(Buffer.from(pixels.subarray(y * part.w * size, (y + 1) * part.w * size))).toEqual(upright.data.subarray(from, from + part.w * size));
    }
    const half = await decodePart(source, undefined, 45);
    expect(half.layout).toMatchObject(orientation >= 5 ? { width: 30, height: 45 } : { width: 45, height: 30 });
  });
});

it.each([3, 4] as const)('an original of 16 bits is averaged in linear light strip by strip, with %d channels', async (channels) => {
  const [w, h, factor] = [203, 151, 3];
  const words = new Uint16Array(w * h * channels).map((_, i) => (channels === 4 && i % 4 === 3 ? 20000 + ((i * 31) % 40000) : (i * 977) & 65535));
  const at = path.join(folder, `deep-${channels}.tif`);
  await sharp(words, { raw: { width: w, height: h, channels } })
    .toColourspace('rgb16')
    .tiff({ compression: 'none' })
    .toFile(at);
  const rect = { x: 4, y: 5, w: 190, h: 140 };
  const { layout, pixels } = await inStrips({ file: at, depth: 16, alpha: channels === 4 }, rect, factor, 4 * factor);
  expect(layout).toEqual({ width: 63, height: 46, depth: 16, channels });
  const made = new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 2);
  const wordAt = (x: number, y: number, c: number): number => (words[((rect.y + y) * w + rect.x + x) * channels + c] as number) / 65535;
  for (const [x, y] of [
    [0, 0],
    [62, 45],
    [17, 4],
    [31, 23],
    [5, 8],
  ] as const) {
    const square = Array.from({ length: factor * factor }, (_, i) => [x * factor + (i % factor), y * factor + Math.floor(i / factor)] as const);
    const alpha = square.reduce((sum, [u, v]) => sum + (channels === 4 ? wordAt(u, v, 3) : 1), 0);
    for (let c = 0; c < 3; c++) {
      const light = square.reduce((sum, [u, v]) => sum + (channels === 4 ? wordAt(u, v, 3) : 1) * decode(wordAt(u, v, c)), 0) / alpha;
      expect(Math.abs((made[(y * 63 + x) * channels + c] as number) - 65535 * encode(light))).toBeLessThan(1);
    }
    if (channels === 4) expect(Math.abs((made[(y * 63 + x) * 4 + 3] as number) - (65535 * alpha) / 9)).toBeLessThan(1);
  }
});
