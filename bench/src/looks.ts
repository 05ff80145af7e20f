import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { readLook } from '@bexlen/core';
import { Workshop } from '@bexlen/render/pool/workshop';
import { exportFile } from './exports';
import { files, photo, root } from './work';

/** Photos that a look is put on; a hundred take some minutes. */
const PHOTOS = Number(process.env['PHOTOS'] ?? 12);
const LOOKS = ['daylight/clear-noon', 'soft-light/orchard-glow'] as const;

/** Files of a look on many photos of 24 megapixels, one after another with all hands, beside decoding and encoding alone, in turns. */
export async function benchLooks(): Promise<void> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  const file = path.join(folder, 'in.jpg');
  await sharp(photo).resize(6000, 4000, { fit: 'fill' }).jpeg({ quality: 92 }).toFile(file);
  const threads = os.availableParallelism();
  sharp.concurrency(threads);
  const workshop = new Workshop(files, threads);
  for (const name of LOOKS) {
    const { look } = readLook(await fs.readFile(path.join(root, 'looks', `${name}.json`), 'utf8'));
    if (!look) throw new Error(`${name} cannot be read`);
    let [ours, alone] = [0, 0];
    for (let i = 0; i <= PHOTOS; i++) {
      const to = path.join(folder, `${i}.jpg`);
      const begin = performance.now();
      await exportFile(file, look.stack, workshop, to);
      const between = performance.now();
      await sharp(file).jpeg({ quality: 92, chromaSubsampling: '4:4:4', optimiseCoding: false }).toFile(to);
      // The first one warms up both.
      if (i === 0) continue;
      ours += between - begin;
      alone += performance.now() - between;
    }
    const perMinute = (ms: number): string => ((PHOTOS * 60_000) / ms).toFixed(1);
    console.log(
      `${look.name} on ${PHOTOS} photos of 24 MP, ${threads} threads: ${perMinute(ours)} a minute; decoding and encoding alone ${perMinute(alone)}; ratio ${(ours / alone).toFixed(2)}`,
    );
  }
  await workshop.close();
  await fs.rm(folder, { recursive: true });
}
