import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { decode, emptyStack, putOn, readLook } from '@bexlen/core';
import { linearToXyz, type Rgb } from '../../core/src/pixels/colour';
import { fastKernels, newEngine } from '../../core/test/kernels';

/** Looks that come with Bexlen: each has an idea that shows at small size. */
const root = path.join(import.meta.dirname, '../..');
const PHOTOS = ['dunes', 'gorge-falls', 'lantern-lane', 'puppet-portrait', 'orchard-avenue'];
const EDGE = 96;
/** Of the pixels, one in so many is compared. */
const APART = 2;

const { cbrt, hypot } = Math;
const light = Float64Array.from({ length: 256 }, (_, i) => decode(i / 255));
const root3 = (t: number): number => (t > 216 / 24389 ? cbrt(t) : ((24389 / 27) * t + 16) / 116);

/** CIELAB of some of a picture's pixels, D65 (CIE 15:2018, 8.2.1). */
function labOf(pixels: Uint8Array): Float64Array {
  const count = Math.floor(pixels.length / 4 / APART);
  const lab = new Float64Array(3 * count);
  for (let i = 0; i < count; i++) {
    const rgb = [0, 1, 2].map((c) => light[pixels[4 * APART * i + c] as number]) as unknown as Rgb;
    const [x, y, z] = linearToXyz(rgb);
    const [fx, fy, fz] = [root3(x / 0.95047), root3(y), root3(z / 1.08883)];
    lab.set([116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)], 3 * i);
  }
  return lab;
}

/** The mean distance of what two looks make of the same photos. */
function apart(a: readonly Float64Array[], b: readonly Float64Array[]): number {
  const means = a.map((one, k) => {
    const other = b[k] as Float64Array;
    let sum = 0;
    for (let i = 0; i < one.length; i += 3)
      sum += hypot(
        (one[i] as number) - (other[i] as number),
        (one[i + 1] as number) - (other[i + 1] as number),
        (one[i + 2] as number) - (other[i + 2] as number),
      );
    return (3 * sum) / one.length;
  });
  return means.reduce((sum, mean) => sum + mean, 0) / means.length;
}

it('no two of them make nearly the same of a photo', async () => {
  const photos = await Promise.all(
    PHOTOS.map((name) =>
      sharp(path.join(root, 'demo', `${name}.jpg`))
        .resize(EDGE, EDGE, { fit: 'inside' })
        .ensureAlpha()
        .raw()
        .toBuffer({ resolveWithObject: true }),
    ),
  );
  const engine = await newEngine(fastKernels);
  const files = fs.readdirSync(path.join(root, 'looks'), { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.json'));
  let count = 0;
  const made = files.map((file) => {
    const { look } = readLook(fs.readFileSync(path.join(root, 'looks', file), 'utf8'));
    if (!look) throw new Error(file);
    expect([file, look.says?.length]).toEqual([file, look.stack.layers.length]);
    const stack = putOn(emptyStack, look, { where: 'over', strength: 1, newId: () => `l${++count}` });
    return photos.map(({ data, info }) => {
      engine.open({ width: info.width, height: info.height, channels: 4, depth: 8 }).set(data);
      return labOf(engine.render({ stack, format: 'rgba8' })?.pixels as Uint8Array);
    });
  });
  // As far from one as that is from it.
  const by = made.map((one, i) => made.map((other, k) => (k < i ? apart(one, other) : Infinity)));
  const nearest = made.map((_, i) => {
    const others = made.map((__, k) => ({ file: files[k], by: by[Math.max(i, k)]?.[Math.min(i, k)] ?? Infinity })).sort((a, b) => a.by - b.by);
    return { file: files[i], to: others[0]?.file, by: others[0]?.by ?? 0 };
  });
  expect(files.length).toBe(40);
  expect(nearest.filter(({ by }) => by < 6)).toEqual([]);
  const sorted = nearest.map(({ by }) => by).sort((a, b) => a - b);
  expect(sorted[Math.floor(sorted.length / 2)]).toBeGreaterThan(10);
});
