import fs from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { demoWhole, EMPTY, SMALL } from './house';

/** Long edge of the photos in stories. */
const EDGE = 700;

/** Lays an empty shelf out and makes the demo photos smaller, for all stories to begin with. */
export default async function before(): Promise<void> {
  const { emptyShelf } = (await import(path.resolve(import.meta.dirname, '../../scripts/empty-shelf.mjs'))) as { emptyShelf: () => Promise<string> };
  process.env[EMPTY] = await emptyShelf();
  await fs.mkdir(SMALL, { recursive: true });
  const there = await fs.readdir(SMALL);
  const files = (await fs.readdir(demoWhole('.'))).filter((file) => file.endsWith('.jpg') && !there.includes(file));
  for (const file of files) {
    const small = sharp(demoWhole(file)).resize(EDGE, EDGE, { fit: 'inside' }).keepMetadata();
    await small.jpeg({ quality: 95, chromaSubsampling: '4:4:4' }).toFile(path.join(SMALL, file));
  }
}
