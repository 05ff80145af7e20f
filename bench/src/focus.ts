import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { instantiate, newMemory, type Engine } from '@bexlen/core/engine';
import { newFocus, type KindLayer } from '@bexlen/core';
import { aperture, apertureKernel, apertureNumbers, round } from '@bexlen/core/expressions/filters/aperture';
import { Workshop } from '@bexlen/render/pool/workshop';
import { exportFile } from './exports';
import { report, side } from './timing';
import { files, layer, newEngine, photo, pixelsOf, stackOf } from './work';

const EDGE = 6000;
const RADIUS = 40;

/** Files of 24 megapixels out of focus: a lens against sharp's Gaussian that spreads as far, what varies against what does not, and brush strokes by themselves. */
export async function benchFocus(rounds: number): Promise<void> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  const workshop = new Workshop(files, 2);
  sharp.concurrency(2);
  const large = path.join(folder, 'large.jpg');
  await sharp(photo).resize(EDGE, 4000, { fit: 'fill' }).jpeg({ quality: 92, chromaSubsampling: '4:4:4' }).toFile(large);
  const file = (kind: string, params: object) => () =>
    exportFile(large, stackOf(layer(kind as never, { params: params as never })), workshop, path.join(folder, 'ours.jpg'));
  const bySharp = async (): Promise<void> => {
    await sharp(large)
      .blur(RADIUS / 2)
      .jpeg({ quality: 92, chromaSubsampling: '4:4:4' })
      .toFile(path.join(folder, 'sharp.jpg'));
  };
  const lens = await side(rounds, { ours: file('lens-blur', { radius: RADIUS / EDGE, lift: 0 }), bySharp });
  report('lens of radius 40 px, 24 MP, file, sharp’s Gaussian of equal variance', lens.ours, lens.bySharp, 2, 24);
  const pairs = [
    ['by a lens', 'lens-blur', { radius: 0.012, lift: 0 }, { radius: 0.012, lift: 0 }],
    ['softened', 'blur', { radius: 0.006 }, { radius: 0.012, by: 'soft' }],
  ] as const;
  for (const [name, even, evenly, params] of pairs) {
    const band = await side(rounds, { ours: file('band-focus', params), evenly: file(even, evenly) });
    report(`band of focus ${name}, 24 MP, file, blurred evenly`, band.ours, band.evenly, 2.5, 24);
  }
  for (const kind of ['brushwork', 'motion-blur', 'paper']) {
    const { ours, plain } = await side(1, { ours: file(kind, {}), plain: file('blur', {}) });
    report(`${kind}, 24 MP, file, a plain blur`, ours, plain, Infinity, 24);
  }
  await workshop.close();
  await fs.rm(folder, { recursive: true });
  await benchAgainstSum(rounds);
  for (const [width, height] of [
    [1536, 1024],
    [1024, 683],
  ] as const)
    await benchFrames(rounds + 2, width, height);
}

/** A pixel behind a lens: by the compiled loop on a square, and by the plain sum over the opening on a crop of it. */
async function benchAgainstSum(rounds: number): Promise<void> {
  const [n, crop] = [512, 64];
  const memory = newMemory(true);
  const kernels = await instantiate(await WebAssembly.compile(await fs.readFile(files.kernels)), memory);
  const numbers = apertureNumbers(round(RADIUS));
  const table = aperture.table(numbers, 1);
  const image = 1 << 20;
  const made = image + n * n * 16 + 4096;
  const tableAt = made + n * n * 16 + 4096;
  const scratch = tableAt + table.byteLength + 4096;
  memory.grow(Math.ceil((scratch + aperture.scratch(n, n)) / 65536));
  const floats = new Float32Array(memory.buffer);
  floats.set(table, tableAt / 4);
  const pixels = floats.subarray(image / 4, image / 4 + n * n * 4);
  pixels.forEach((_, i) => (pixels[i] = (i % 97) / 97));
  const { reach, shares } = apertureKernel(round(RADIUS));
  const bySum = (): void => {
    const side = 2 * reach + 1;
    for (let y = 0; y < crop; y++)
      for (let x = 0; x < crop; x++) {
        let [r, g, b] = [0, 0, 0];
        for (let j = 0; j < side; j++)
          for (let i = 0; i < side; i++) {
            const share = shares[j * side + i] as number;
            const at = 4 * ((y + j) * n + x + i);
            r += share * (pixels[at] as number);
            g += share * (pixels[at + 1] as number);
            b += share * (pixels[at + 2] as number);
          }
        floats.set([r, g, b, 1], made / 4 + 4 * (y * n + x));
      }
  };
  const run = aperture.bind(kernels);
  const whole = { left: 0, top: 0, cols: n, rows: n };
  const times = await side(rounds, { ours: () => run(made, image, n, n, whole, 0, 0, tableAt, scratch), bySum });
  const each = (ms: number, across: number): string => `${((ms * 1e6) / (across * across)).toFixed(0)} ns`;
  console.log(`lens of radius ${RADIUS} px, a pixel: ${each(times.ours.median, n)}, by the sum over the opening ${each(times.bySum.median, crop)}`);
}

/** Frames of a band that is dragged over the photo, on one thread, against the same blur everywhere. */
async function benchFrames(rounds: number, width: number, height: number): Promise<void> {
  const bytes = await pixelsOf(width, height);
  for (const by of ['lens', 'soft'] as const) {
    const [moved, even] = [await newEngine(64e6), await newEngine(64e6)];
    for (const engine of [moved, even]) engine.open({ width, height, depth: 8, channels: 3 }).set(bytes);
    let y = 0;
    const band = (): KindLayer => layer('band-focus', { params: { by, focus: [newFocus('band', 'b', { y: (y += 0.001) })] as never } });
    const plain = (): KindLayer =>
      by === 'lens'
        ? layer('lens-blur', { params: { radius: 0.007 + (y += 1e-5), lift: 0 } })
        : layer('blur', { params: { radius: 0.0035 + (y += 1e-5) } });
    const frame = (engine: Engine, of: () => KindLayer) => (): void => void engine.render({ stack: stackOf(of()), format: 'screen' });
    const { ours, plainly } = await side(rounds, { ours: frame(moved, band), plainly: frame(even, plain) });
    report(`frame of a dragged band by ${by}, ${width} x ${height}, one thread, blurred evenly`, ours, plainly, Infinity, 1.5);
  }
}
