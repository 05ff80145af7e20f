import type { Readable } from 'node:stream';
import { fromBuffer, open, type Entry, type ZipFile } from 'yauzl';
import { ZipFile as Writer } from 'yazl';
import { BexlenError, echoed } from '@bexlen/core';

/** How much of a stranger's archive is read at most. */
export interface ZipLimits {
  readonly entries: number;
  /** Of one file and of all, unpacked. */
  readonly entryBytes: number;
  readonly allBytes: number;
}

const broken = (why: string): BexlenError =>
  new BexlenError('damaged-file', `The archive cannot be read: ${why}`, 'Nothing was taken in. Pack it again, or choose another file.');

/**
 * The files of a zip archive by their paths, which lead nowhere but down. What the archive says of itself is not believed: bytes are counted while they are unpacked.
 * Throws where it is damaged or larger than the limits; nothing of it has been used by then.
 * @param source a path, or its bytes.
 */
export async function readZip(source: string | Buffer, limits: ZipLimits): Promise<Map<string, Buffer>> {
  const zip = await opened(source);
  try {
    if (zip.entryCount > limits.entries) throw broken(`it holds ${zip.entryCount} files, and at most ${limits.entries} are read.`);
    const files = new Map<string, Buffer>();
    let left = limits.allBytes;
    for await (const entry of zip.eachEntry()) {
      const { fileName } = entry;
      if (fileName.endsWith('/')) continue;
      if (files.has(fileName)) throw broken(`“${echoed(fileName)}” is in it twice.`);
      const bytes = await unpacked(zip, entry, Math.min(left, limits.entryBytes));
      left -= bytes.length;
      files.set(fileName, bytes);
    }
    return files;
  } catch (error) {
    if (error instanceof BexlenError) throw error;
    throw broken(`${echoed((error as Error).message, 160)}.`);
  } finally {
    zip.close();
  }
}

function opened(source: string | Buffer): Promise<ZipFile> {
  const options = { lazyEntries: true, strictFileNames: true, validateEntrySizes: true, autoClose: false };
  return new Promise((resolve, reject) => {
    const done = (error: Error | null, zip?: ZipFile): void =>
      zip ? resolve(zip) : reject(broken(`${echoed(error?.message ?? 'no archive', 160)}.`));
    if (typeof source === 'string') open(source, options, done);
    else fromBuffer(source, options, done);
  });
}

async function unpacked(zip: ZipFile, entry: Entry, most: number): Promise<Buffer> {
  const stream = await new Promise<Readable>((resolve, reject) =>
    zip.openReadStream(entry, (error, readable) => (error ? reject(error) : resolve(readable))),
  );
  const parts: Buffer[] = [];
  let count = 0;
  for await (const part of stream as AsyncIterable<Buffer>) {
    count += part.length;
    if (count > most) {
      stream.destroy();
      throw broken(`“${echoed(entry.fileName)}” is larger unpacked than is read.`);
    }
    parts.push(part);
  }
  return Buffer.concat(parts);
}

/** A file of an archive that is written: its bytes, or where they lie. */
export interface Packed {
  readonly name: string;
  readonly from: Buffer | string;
  /** Not compressed: it is already, or it must lie open at the front. */
  readonly stored?: boolean;
}

/** A zip archive, in the order given, as a stream. */
export function writeZip(files: readonly Packed[]): Readable {
  const zip = new Writer();
  for (const { name, from, stored = false } of files) {
    const options = { compress: !stored, mtime: new Date() };
    if (typeof from === 'string') zip.addFile(from, name, options);
    else zip.addBuffer(from, name, options);
  }
  zip.end();
  return zip.outputStream as Readable;
}

/** Names for files that stand together: a second one of the same name gets a number. */
export function freeNames(before = ' '): (stem: string, ending: string) => string {
  const taken = new Set<string>();
  return (stem, ending) => {
    for (let n = 1; ; n++) {
      const name = `${stem}${n > 1 ? `${before}${n}` : ''}.${ending}`;
      if (taken.has(name.toLowerCase())) continue;
      taken.add(name.toLowerCase());
      return name;
    }
  };
}
