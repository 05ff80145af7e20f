import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { clipped, readLook, proxyOf, type Look } from '@bexlen/core';
import { Engine, instantiate, newMemory } from '@bexlen/core/engine';

/** The looks that come with Bexlen, on the demo photos over their whole range: nothing that was clean is clipped, and nothing goes black, white or strange. */
const root = path.resolve(import.meta.dirname, '../..');
const looks = fs.readdirSync(path.join(root, 'looks')).flatMap((folder) =>
  fs.readdirSync(path.join(root, 'looks', folder)).map((file): [string, Look] => {
    const { look, faults } = readLook(fs.readFileSync(path.join(root, 'looks', folder, file), 'utf8'));
    if (!look) throw new Error(`${file}: ${JSON.stringify(faults)}`);
    return [`${folder}/${file}`, look];
  }),
);
const photos = fs.readdirSync(path.join(root, 'demo')).filter((file) => file.endsWith('.jpg'));
const EDGE = 128;
/** A share of clipped pixels under which a photo counts as clean, and by which it may grow. */
const CLEAN = 0.01;
const MOST = 0.01;

interface Small {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}
const small = async (file: string): Promise<Small> => {
  const { data, info } = await sharp(path.join(root, 'demo', file))
    .resize(EDGE, EDGE, { fit: 'inside' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
};
const share = ({ width, height, data }: Small): number =>
  clipped({ width, height, data: Uint8ClampedArray.from(data) }).filter((mark) => mark > 0).length / (width * height);
const toneOf = ({ data }: Small): number[] =>
  Array.from(
    { length: data.length / 4 },
    (_, i) => (data[4 * i] as number) * 0.2126 + (data[4 * i + 1] as number) * 0.7152 + (data[4 * i + 2] as number) * 0.0722,
  );

let engine: Engine;
let before: Small[];
beforeAll(async () => {
  const memory = newMemory(true);
  engine = new Engine(memory, await instantiate(await WebAssembly.compile(fs.readFileSync(path.join(root, 'build/kernels.wasm'))), memory), 1);
  before = await Promise.all(photos.map(small));
});

it('are forty, in six folders, each with a sentence and a rule', () => {
  expect(looks.length).toBe(40);
  expect(new Set(looks.map(([, { folder }]) => folder)).size).toBe(6);
  expect(looks.filter(([, { note, fit }]) => !note || fit.length === 0)).toEqual([]);
});

it.each(looks)('%s clips next to nothing that was clean and keeps a picture of every photo', (_, { stack }) => {
  for (const [i, photo] of before.entries()) {
    const layout = { width: photo.width, height: photo.height, depth: 8, channels: 4 } as const;
    engine.open(layout).set(photo.data);
    engine.proxy = proxyOf({ layout, pixels: photo.data });
    const made = engine.render({ stack, format: 'rgba8' });
    const after = { width: photo.width, height: photo.height, data: made?.pixels.slice() ?? new Uint8Array() };
    if (share(photo) < CLEAN) expect([photos[i], share(after) - share(photo) < MOST]).toEqual([photos[i], true]);
    const tones = toneOf(after);
    const mean = tones.reduce((sum, v) => sum + v, 0) / tones.length;
    const spread = Math.sqrt(tones.reduce((sum, v) => sum + (v - mean) ** 2, 0) / tones.length);
    expect([photos[i], mean > 12 && mean < 238 && spread > 12]).toEqual([photos[i], true]);
  }
});
