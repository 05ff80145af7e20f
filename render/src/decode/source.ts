import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Source } from './decode';
import { inspect, isDeveloped, type Inspected } from './inspect';

/** Folders with what was developed; they go with the process. */
const folders = new Set<string>();

function forget(folder: string): void {
  fs.rmSync(folder, { recursive: true, force: true });
  folders.delete(folder);
}

function atEnd(folder: string): void {
  if (folders.size === 0) process.once('exit', () => folders.forEach(forget));
  folders.add(folder);
}

/** Looks at a photo of one's own, and gives what its pixels are read from. What a HEIC photo or a raw file is developed into is gone when the process ends. */
export async function sourceAt(file: string): Promise<Inspected & Source> {
  const name = path.basename(file);
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'bexlen-developed-'));
  const developed = path.join(folder, 'developed.png');
  try {
    const facts = await inspect(file, name, undefined, developed);
    if (!isDeveloped(facts.format)) return { ...facts, file };
    atEnd(folder);
    return { ...facts, file: developed, original: file };
  } finally {
    if (!fs.existsSync(developed)) forget(folder);
  }
}
