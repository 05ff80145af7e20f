import fs from 'node:fs/promises';
import type { Primaries } from './primaries';

/** How much of a file is looked through: what says how its pixels are to be read stands before them. */
const HEAD_BYTES = 1 << 16;
/** Numbers of ITU-T H.273 (tables 2 and 3): Display P3, and the curve of sRGB. */
const [P3, CURVE] = [12, 13];
/** Signature of a PNG; of its chunks, what is not their content (PNG, third edition, 5.2 and 5.3). */
const [SIGNATURE, FRAME] = [8, 12];

/** The primaries that a file names by number in the place of a profile: `cICP` of a PNG (third edition, 11.3.2.6), a colour box `nclx` of an AVIF (ISO/IEC 23008-12). Nothing unless those are Display P3. */
export async function codedPrimaries(file: string, format: string): Promise<Primaries | undefined> {
  if (format !== 'PNG' && format !== 'AVIF') return undefined;
  const handle = await fs.open(file);
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(HEAD_BYTES), 0, HEAD_BYTES, 0);
    const head = buffer.subarray(0, bytesRead);
    const [primaries, curve] = (format === 'PNG' ? inPng(head) : inBoxes(head)) ?? [];
    return primaries === P3 && curve === CURVE ? { gamut: 'display-p3', native: true } : undefined;
  } finally {
    await handle.close();
  }
}

type Numbers = readonly [primaries: number, curve: number];

function inPng(head: Buffer): Numbers | undefined {
  for (let at = SIGNATURE; at + FRAME <= head.length; at += FRAME + head.readUInt32BE(at)) {
    const name = head.toString('latin1', at + 4, at + 8);
    if (name === 'IDAT') return undefined;
    if (name === 'cICP' && at + 10 <= head.length) return [head[at + 8] as number, head[at + 9] as number];
  }
  return undefined;
}

function inBoxes(head: Buffer): Numbers | undefined {
  const at = head.indexOf('colrnclx', 0, 'latin1');
  return at >= 0 && at + 12 <= head.length ? [head.readUInt16BE(at + 8), head.readUInt16BE(at + 10)] : undefined;
}
