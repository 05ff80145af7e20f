import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { differenceCiede2000 } from 'culori';
import { Engine, instantiate, newMemory } from '@bexlen/core/engine';
import { readLook, type Layout, type Stack } from '@bexlen/core';
import { decode, decodeFitted } from '@bexlen/render/decode/decode';

/** The picture on the bench is computed small, the file large: they must look the same. */
const root = path.resolve(import.meta.dirname, '../..');
const photos = ['dunes', 'orchard-avenue', 'puppet-portrait', 'lantern-lane'];
const looks = fs.readdirSync(path.join(root, 'demo/looks')).map((file) => path.join(root, 'demo/looks', file));
const EDGE = 1024;
/** Leaves finer than a pixel of the bench: hues are mixed there before they are averaged, here after. */
const FINE = { 'orchard-avenue': { mean: 0.7, worst: 7 } } as Record<string, { mean: number; worst: number }>;

const compiled = WebAssembly.compile(fs.readFileSync(path.join(root, 'build/kernels.wasm')));
async function rendered(stack: Stack, layout: Layout, pixels: Uint8Array): Promise<Uint16Array> {
  const memory = newMemory(true);
  const module = await compiled;
  const engine = new Engine(memory, await instantiate(module, memory), 1);
  engine.open(layout).set(pixels);
  const { pixels: bytes } = engine.render({ stack, format: 'rgb16' }) ?? { pixels: new Uint8Array() };
  return new Uint16Array(bytes.slice().buffer);
}

async function linearly(pixels: Uint16Array, { width, height }: Layout, to: Layout): Promise<Uint16Array> {
  const whole = sharp(pixels, { raw: { width, height, channels: 3 } }).pipelineColourspace('scrgb');
  const { buffer, byteOffset, byteLength } = await whole
    .resize(to.width, to.height, { fit: 'fill' })
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer();
  return new Uint16Array(buffer, byteOffset, byteLength / 2);
}

const distance = differenceCiede2000();
const colourAt = (pixels: Uint16Array, i: number) => ({
  mode: 'rgb' as const,
  r: (pixels[i] as number) / 65535,
  g: (pixels[i + 1] as number) / 65535,
  b: (pixels[i + 2] as number) / 65535,
});
/** Grain is another at another size, and compared by its mean and deviation where it is made. */
const withoutGrain = (stack: Stack): Stack => ({ ...stack, layers: stack.layers.map((it) => (it.kind === 'grain' ? { ...it, on: false } : it)) });

const sourceOf = (name: string) => ({ file: path.join(root, 'demo', `${name}.jpg`), depth: 8, alpha: false }) as const;

describe.each(photos)('%s', (name) => {
  const read = Promise.all([decode(sourceOf(name)), decodeFitted(sourceOf(name), EDGE)]);
  it.each(looks)('looks on the bench as in the file with %s', async (file) => {
    const { look } = readLook(fs.readFileSync(file, 'utf8'));
    if (!look) throw new Error('a look of the house is broken');
    const [large, small] = await read;
    const whole = await linearly(await rendered(withoutGrain(look.stack), large.layout, large.pixels), large.layout, small.layout);
    const preview = await rendered(withoutGrain(look.stack), small.layout, small.pixels);
    const off: number[] = [];
    for (let i = 0; i < preview.length; i += 3 * 31) off.push(distance(colourAt(preview, i), colourAt(whole, i)));
    off.sort((a, b) => a - b);
    const mean = off.reduce((sum, d) => sum + d, 0) / off.length;
    const most = FINE[name] ?? { mean: 0.5, worst: 2 };
    expect(mean).toBeLessThan(most.mean);
    expect(off[Math.floor(off.length * 0.99)]).toBeLessThan(most.worst);
  });
});
