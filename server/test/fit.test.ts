import fs from 'node:fs';
import path from 'node:path';
import { differenceCiede2000 } from 'culori';
import sharp from 'sharp';
import { decode, emptyStack, encode, putOn, readLook, standOf, type Bytes, type Look } from '@bexlen/core';
import { balance } from '../../core/src/kinds/white-balance';
import { fastKernels, newEngine } from '../../core/test/kernels';

const root = path.join(import.meta.dirname, '../..');
const EDGE = 96;
const WHITE_MIRED = 1e6 / 6504;
const difference = differenceCiede2000();
const SCENES = ['dunes', 'gorge-falls', 'orchard-avenue', 'puppet-portrait', 'rehearsal-window', 'rooftops-above', 'tower-path', 'workbench'];
type Light = (rgb: readonly number[]) => readonly number[];

/** A demo photo, small, in other lights. */
async function demo(name: string, lights: readonly Light[]): Promise<(Bytes & { data: Uint8ClampedArray })[]> {
  const { data, info } = await sharp(path.join(root, 'demo', `${name}.jpg`))
    .resize(EDGE, EDGE, { fit: 'inside' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return lights.map((light) => {
    const pixels = new Uint8ClampedArray(data);
    for (let i = 0; i < pixels.length; i += 4)
      light([0, 1, 2].map((c) => decode((pixels[i + c] as number) / 255))).forEach(
        (v, c) => (pixels[i + c] = 255 * encode(Math.min(1, Math.max(0, v)))),
      );
    return { width: info.width, height: info.height, data: pixels };
  });
}
const exposed =
  (stops: number): Light =>
  (rgb) =>
    rgb.map((v) => v * 2 ** stops);
const from = (kelvin: number): Light => {
  const rows = balance((WHITE_MIRED - 1e6 / kelvin) / 96, 0);
  return (rgb) => rows.map((row) => row.reduce((sum, v, i) => sum + v * (rgb[i] as number), 0));
};
const LIGHTS: readonly Light[] = [(rgb) => rgb, exposed(-1.5), exposed(1.5), from(6504 - 1200), from(6504 + 1200)];

const lookOf = (file: string): Look => readLook(fs.readFileSync(path.join(root, 'looks', file), 'utf8')).look as Look;

it('the same scene in other light comes out alike with Fit: a third as far apart, or less', async () => {
  const engine = await newEngine(fastKernels);
  let count = 0;
  const made = (picture: Bytes, look: Look, fit: boolean): Uint8Array => {
    engine.open({ width: picture.width, height: picture.height, channels: 4, depth: 8 }).set(picture.data);
    const stack = putOn(emptyStack, look, {
      where: 'over',
      strength: 1,
      ...(fit && { from: standOf(picture) }),
      newId: () => `l${++count}`,
    });
    return engine.render({ stack, format: 'rgba8' })?.pixels.slice() as Uint8Array;
  };
  const apart = (a: Uint8Array, b: Uint8Array): number => {
    const colour = (of: Uint8Array, i: number) => ({
      mode: 'rgb' as const,
      r: (of[i] as number) / 255,
      g: (of[i + 1] as number) / 255,
      b: (of[i + 2] as number) / 255,
    });
    let [sum, pixels] = [0, 0];
    for (let i = 0; i < a.length; i += 4 * 11) {
      sum += difference(colour(a, i), colour(b, i));
      pixels++;
    }
    return sum / pixels;
  };
  const spreads = { without: 0, with: 0 };
  for (const name of SCENES) {
    const pictures = await demo(name, LIGHTS);
    for (const look of ['daylight/clear-noon.json', 'soft-light/orchard-glow.json'].map(lookOf))
      for (const fit of [false, true]) {
        const [first, ...others] = pictures.map((picture) => made(picture, look, fit)) as [Uint8Array, ...Uint8Array[]];
        spreads[fit ? 'with' : 'without'] += others.reduce((sum, other) => sum + apart(first, other), 0) / others.length / SCENES.length / 2;
      }
  }
  expect(spreads.without).toBeGreaterThan(6);
  expect(spreads.with / spreads.without).toBeLessThan(1 / 3);
});
