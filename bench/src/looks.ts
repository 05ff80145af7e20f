import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { readLook } from '@bexlen/core';
import { Workshop } from '@bexlen/render/pool/workshop';
import { exportFile } from './exports';
import { files, photo, root } from './work';

/** Photos that each look is put on; with a hundred it takes hours. */
const PHOTOS = Number(process.env['PHOTOS'] ?? 1);
/** Photos a minute that are aimed at: by any look, and by the middle of all. */
const AIM = { any: 60, middle: 90 };

/** Files of every look on photos of 24 megapixels, one after another with all hands, beside decoding and encoding alone, in turns. */
export async function benchLooks(): Promise<void> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  const file = path.join(folder, 'in.jpg');
  await sharp(photo).resize(6000, 4000, { fit: 'fill' }).jpeg({ quality: 92 }).toFile(file);
  const threads = os.availableParallelism();
  sharp.concurrency(threads);
  const workshop = new Workshop(files, threads);
  const paces: number[] = [];
  for (const name of await namesOf(path.join(root, 'looks'))) {
    const { look } = readLook(await fs.readFile(path.join(root, 'looks', name), 'utf8'));
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
    paces.push((PHOTOS * 60_000) / ours);
    console.log(
      `${look.name} on ${PHOTOS} photos of 24 MP, ${threads} threads: ${(paces.at(-1) ?? 0).toFixed(1)} a minute; against decoding and encoding alone ${(ours / alone).toFixed(2)}`,
    );
  }
  const [least = 0, middle = 0] = [Math.min(...paces), paces.toSorted((a, b) => a - b)[paces.length >> 1]];
  const met = (pace: number, aim: number): string => `${pace.toFixed(1)} (aim ${aim}: ${pace >= aim ? 'met' : 'MISSED'})`;
  console.log(`photos a minute of ${paces.length} looks: the slowest ${met(least, AIM.any)}, in the middle ${met(middle, AIM.middle)}`);
  await workshop.close();
  await fs.rm(folder, { recursive: true });
}

/** The files of the looks that come with Bexlen, by their folders. */
async function namesOf(folder: string): Promise<string[]> {
  const all = await fs.readdir(folder, { recursive: true });
  return all.filter((name) => name.endsWith('.json')).sort();
}
