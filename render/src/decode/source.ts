import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Source } from './decode';
import { inspect, isDeveloped, type Inspected } from './inspect';

/** Looks at a photo of one's own, and gives what its pixels are read from. What a HEIC photo or a raw file is developed into is gone when the process ends. */
export async function sourceAt(file: string): Promise<Inspected & Source> {
  const name = path.basename(file);
  const developed = path.join(fs.mkdtempSync(path.join(os.tmpdir(), 'bexlen-developed-')), 'developed.png');
  const clear = (): void => fs.rmSync(path.dirname(developed), { recursive: true, force: true });
  try {
    const facts = await inspect(file, name, undefined, developed);
    if (!isDeveloped(facts.format)) return { ...facts, file };
    process.once('exit', clear);
    return { ...facts, file: developed, original: file };
  } finally {
    if (!fs.existsSync(developed)) clear();
  }
}
