import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { make } from '@bexlen/render/make/make';
import { Workshop } from '@bexlen/render/pool/workshop';
import { named, type Gamut, type Painted, type Stack } from '@bexlen/core';
import { report, side } from './timing';
import { files, orton, photo } from './work';

/** A finished file of a JPEG, the way the server makes it. */
export const exportFile = (
  file: string,
  stack: Stack,
  workshop: Workshop,
  to: string,
  strokes: readonly Painted[] = [],
  gamut: Gamut = 'srgb',
): Promise<number> =>
  make(workshop, {
    source: { file, depth: 8, alpha: false, gamut },
    stack,
    wish: { format: 'jpeg', quality: 92 },
    to,
    supplies: {
      cube: () => Promise.reject(new Error('no cubes here')),
      painting: () => Promise.resolve(strokes.map(named)),
      proxy: () => Promise.reject(new Error('no proxy here')),
      picture: () => Promise.reject(new Error('no pictures here')),
    },
  });

/** The same operations by sharp. */
async function bySharp(file: string, to: string): Promise<void> {
  const { data, info } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
  const raw = { width: info.width, height: info.height, channels: 3 } as const;
  const lifted = await sharp(data, { raw })
    .composite([{ input: data, raw, blend: 'screen' }])
    .removeAlpha()
    .raw()
    .toBuffer();
  const veil = await sharp(lifted, { raw }).blur(30).linear(0.6, 102).raw().toBuffer();
  await sharp(lifted, { raw })
    .composite([{ input: veil, raw, blend: 'multiply' }])
    .removeAlpha()
    .jpeg({ quality: 92, chromaSubsampling: '4:4:4', optimiseCoding: false })
    .toFile(to);
}

/** The Orton stack at 24 megapixels, JPEG to JPEG. */
export async function benchExports(rounds: number): Promise<void> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  const file = path.join(folder, 'in.jpg');
  // Each writes a file of its own: replacing one takes longer.
  let made = 0;
  const next = (): string => path.join(folder, `${++made}.jpg`);
  await sharp(photo).resize(6000, 4000, { fit: 'fill' }).jpeg({ quality: 92 }).toFile(file);
  const stack = orton(30, 6000);
  for (const threads of [1, 2]) {
    sharp.concurrency(threads);
    const workshop = new Workshop(files, threads);
    const { ours, theirs } = await side(rounds, { ours: () => exportFile(file, stack, workshop, next()), theirs: () => bySharp(file, next()) });
    report(`Orton, 24 MP, JPEG to JPEG, ${threads} thread${threads > 1 ? 's' : ''}`, ours, theirs, 0.25, 24);
    await workshop.close();
  }
  sharp.concurrency(1);
  await fs.rm(folder, { recursive: true });
}
