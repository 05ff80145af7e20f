import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';

/** The SHA-256 of a file, in hexadecimal digits, and how many bytes it is. */
export async function hashOf(file: string): Promise<{ readonly hash: string; readonly bytes: number }> {
  const sum = createHash('sha256');
  let bytes = 0;
  for await (const part of createReadStream(file, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
    sum.update(part);
    bytes += part.length;
  }
  return { hash: sum.digest('hex'), bytes };
}
