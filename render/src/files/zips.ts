import { createWriteStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
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

/** An archive whose list of files has been read and is within the limits; nothing is unpacked yet. */
export interface OpenZip {
  /** What it says of the size of each file, unpacked, by paths, which lead nowhere but down. */
  readonly sizes: ReadonlyMap<string, number>;
  /** Unpacks one file. Throws where it is damaged, larger than it said, or not there. */
  readonly bytes: (path: string) => Promise<Buffer>;
  /** Unpacks one file to a place. */
  readonly write: (path: string, to: string) => Promise<void>;
}

/** Opens a zip archive for as long as `use` takes. Throws where it is damaged, or says that it holds more than the limits. @param source a path, or its bytes. */
export async function withZip<T>(source: string | Buffer, limits: ZipLimits, use: (zip: OpenZip) => Promise<T>): Promise<T> {
  const zip = await opened(source);
  try {
    if (zip.entryCount > limits.entries) throw broken(`it holds ${zip.entryCount} files, and at most ${limits.entries} are read.`);
    const entries = new Map<string, Entry>();
    let all = 0;
    for await (const entry of zip.eachEntry()) {
      const { fileName, uncompressedSize } = entry;
      if (fileName.endsWith('/')) continue;
      if (entries.has(fileName)) throw broken(`“${echoed(fileName)}” is in it twice.`);
      all += uncompressedSize;
      if (uncompressedSize > limits.entryBytes || all > limits.allBytes) throw broken(`“${echoed(fileName)}” is larger unpacked than is read.`);
      entries.set(fileName, entry);
    }
    const stream = async (path: string): Promise<Readable> => {
      const entry = entries.get(path);
      if (!entry) throw broken(`“${echoed(path)}” is not in it.`);
      return new Promise((resolve, reject) => zip.openReadStream(entry, (error, readable) => (error ? reject(error) : resolve(readable))));
    };
    return await use({
      sizes: new Map([...entries].map(([name, { uncompressedSize }]) => [name, uncompressedSize])),
      bytes: async (path) => buffer(await stream(path)),
      write: async (path, to) => pipeline(await stream(path), createWriteStream(to)),
    });
  } catch (error) {
    if (error instanceof BexlenError || (error as { code?: string }).code !== undefined) throw error;
    throw broken(`${echoed((error as Error).message, 160)}.`);
  } finally {
    zip.close();
  }
}

/**
 * The files of a zip archive by their paths. What the archive says of itself is held against what comes out of it.
 * Throws where it is damaged or larger than the limits; nothing of it has been used by then.
 */
export const readZip = (source: string | Buffer, limits: ZipLimits): Promise<Map<string, Buffer>> =>
  withZip(source, limits, async ({ sizes, bytes }) => {
    const files = new Map<string, Buffer>();
    for (const name of sizes.keys()) files.set(name, await bytes(name));
    return files;
  });

function opened(source: string | Buffer): Promise<ZipFile> {
  const options = { lazyEntries: true, strictFileNames: true, validateEntrySizes: true, autoClose: false };
  return new Promise((resolve, reject) => {
    const done = (error: Error | null, zip?: ZipFile): void =>
      zip ? resolve(zip) : reject(broken(`${echoed(error?.message ?? 'no archive', 160)}.`));
    if (typeof source === 'string') open(source, options, done);
    else fromBuffer(source, options, done);
  });
}

/** A file of an archive that is written: its bytes, or where they lie. */
export interface Packed {
  readonly name: string;
  readonly from: Buffer | string;
  /** Not compressed: it is already, or it must lie open at the front. */
  readonly stored?: boolean;
}

/** A zip archive, in the order given, as a stream, which breaks off where a file cannot be read. */
export function writeZip(files: readonly Packed[]): Readable {
  const zip = new Writer();
  const stream = zip.outputStream as Readable;
  zip.on('error', (error: Error) => stream.destroy(error));
  for (const { name, from, stored = false } of files) {
    const options = { compress: !stored, mtime: new Date() };
    if (typeof from === 'string') zip.addFile(from, name, options);
    else zip.addBuffer(from, name, options);
  }
  zip.end();
  return stream;
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
