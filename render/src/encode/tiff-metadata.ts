import type { Metadata } from '../decode/metadata';
import { RESOURCES } from './write-metadata';

/** Directories of TIFF 6.0 (section 2), as they are in a file of its own and in a block of EXIF. */
interface Entry {
  readonly tag: number;
  readonly type: number;
  readonly count: number;
  /** Little-endian. */
  readonly value: Buffer;
}

/** Bytes of a value of each type, and of what of it is turned round in the other order of bytes. */
const SIZES: Readonly<Record<number, readonly [size: number, word: number]>> = {
  1: [1, 1],
  2: [1, 1],
  3: [2, 2],
  4: [4, 4],
  5: [8, 4],
  6: [1, 1],
  7: [1, 1],
  8: [2, 2],
  9: [4, 4],
  10: [8, 4],
  11: [4, 4],
  12: [8, 8],
};
const [LONG, UNDEFINED] = [4, 7];
const [EXIF, GPS, IPTC] = [34665, 34853, 33723];
/** What of a photo's main directory tells of the photo and not of how its pixels are stored: names, makers, dates, rights. */
const TOLD = new Set([270, 271, 272, 305, 306, 315, 33432]);

/** The entries of a directory of a block, at an offset; nothing of one that cannot be read. */
function entriesAt(block: Buffer, at: number): Entry[] {
  const small = block.toString('latin1', 0, 2) === 'II';
  const short = (i: number): number => (small ? block.readUInt16LE(i) : block.readUInt16BE(i));
  const long = (i: number): number => (small ? block.readUInt32LE(i) : block.readUInt32BE(i));
  return Array.from({ length: short(at) }, (_, i) => at + 2 + 12 * i).flatMap((from): Entry[] => {
    const [tag, type, count] = [short(from), short(from + 2), long(from + 4)];
    const [size, word] = SIZES[type] ?? [0, 1];
    const bytes = size * count;
    const start = bytes <= 4 ? from + 8 : long(from + 8);
    if (bytes === 0 || start + bytes > block.length) return [];
    const value = Buffer.from(block.subarray(start, start + bytes));
    if (!small && word === 2) value.swap16();
    if (!small && word === 4) value.swap32();
    if (!small && word === 8) value.swap64();
    return [{ tag, type, count, value }];
  });
}

/**
 * A TIFF with EXIF and IPTC in it (CIPA DC-008, 4.6.3; the record of IPTC as TIFF has it): the directories are written anew behind all else, and the header leads to them. Its pixels stay where
 * they are. A file that is not little-endian is given back as it is.
 */
export function withTiffMetadata(tiff: Buffer, { exif, iptc }: Metadata): Buffer {
  if (tiff.toString('latin1', 0, 4) !== 'II*\0' || (!exif && !iptc)) return tiff;
  const parts: Buffer[] = [tiff];
  let end = tiff.length;
  const put = (bytes: Buffer): number => {
    const even = bytes.length % 2 === 0 ? bytes : Buffer.concat([bytes, Buffer.alloc(1)]);
    if (end % 2 === 1) {
      parts.push(Buffer.alloc(1));
      end++;
    }
    parts.push(even);
    end += even.length;
    return end - even.length;
  };
  const directory = (entries: readonly Entry[]): number => {
    const sorted = [...entries].sort((a, b) => a.tag - b.tag);
    const table = Buffer.alloc(2 + 12 * sorted.length + 4);
    table.writeUInt16LE(sorted.length, 0);
    for (const [i, { tag, type, count, value }] of sorted.entries()) {
      const at = 2 + 12 * i;
      table.writeUInt16LE(tag, at);
      table.writeUInt16LE(type, at + 2);
      table.writeUInt32LE(count, at + 4);
      if (value.length <= 4) value.copy(table, at + 8);
      else table.writeUInt32LE(put(value), at + 8);
    }
    return put(table);
  };
  const pointer = (tag: number, to: number): Entry => {
    const value = Buffer.alloc(4);
    value.writeUInt32LE(to);
    return { tag, type: LONG, count: 1, value };
  };
  const own = entriesAt(tiff, tiff.readUInt32LE(4));
  const added: Entry[] = [];
  if (exif) {
    const main = entriesAt(exif, exif.toString('latin1', 0, 2) === 'II' ? exif.readUInt32LE(4) : exif.readUInt32BE(4));
    added.push(...main.filter(({ tag }) => TOLD.has(tag) && !own.some((entry) => entry.tag === tag)));
    for (const tag of [EXIF, GPS]) {
      const found = main.find((entry) => entry.tag === tag);
      if (found) added.push(pointer(tag, directory(entriesAt(exif, found.value.readUInt32LE()))));
    }
  }
  const records = iptc && recordsIn(iptc);
  if (records) added.push({ tag: IPTC, type: UNDEFINED, count: records.length, value: records });
  const first = directory([...own.filter(({ tag }) => !added.some((entry) => entry.tag === tag)), ...added]);
  const header = Buffer.from(tiff.subarray(0, 8));
  header.writeUInt32LE(first, 4);
  return Buffer.concat([header, tiff.subarray(8), ...parts.slice(1)]);
}

/** The records of IPTC themselves out of the resources of a JPEG's segment, where they are number 0x0404. */
function recordsIn(iptc: Buffer): Buffer | undefined {
  const resources = iptc.subarray(0, RESOURCES.length).equals(RESOURCES) ? iptc.subarray(RESOURCES.length) : iptc;
  if (resources[0] === 0x1c) return resources;
  for (let at = 0; at + 12 <= resources.length && resources.toString('latin1', at, at + 4) === '8BIM';) {
    const id = resources.readUInt16BE(at + 4);
    const name = 1 + (resources[at + 6] as number);
    const sizeAt = at + 6 + name + (name % 2);
    const size = resources.readUInt32BE(sizeAt);
    if (id === 0x0404) return resources.subarray(sizeAt + 4, sizeAt + 4 + size);
    at = sizeAt + 4 + size + (size % 2);
  }
  return undefined;
}
