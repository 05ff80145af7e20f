import sharp from 'sharp';
import { turboJpeg, type JpegWish, type TurboJpeg } from '../decode/turbo';

/** Most blocks that a restart interval can count (ITU-T T.81, B.2.4.4). */
const MOST_UNITS = 65535;
const DRI = 0xffdd;
const SOS = 0xffda;
const RESTART = 0xd0;
const END = 0xd9;

/** Blocks in a strip of so many whole rows. */
function unitsIn({ sampling }: JpegWish, width: number, rows: number): number {
  const side = sampling === '4:4:4' ? 8 : 16;
  return Math.ceil(width / side) * Math.ceil(rows / side);
}

/** Whether a picture can be put together of strips of so many rows, which are a multiple of 16. */
export const stripsFit = (wish: JpegWish, width: number, rows: number): boolean => unitsIn(wish, width, rows) <= MOST_UNITS;

/** Opaque 8-bit rows as a JPEG, with the tables of the standard: made to measure they would save 2 % of the file and cost four times the time. */
export function encodeJpeg(pixels: Uint8Array, width: number, wish: JpegWish, turbo: TurboJpeg | null = turboJpeg): Promise<Buffer> {
  if (turbo) return turbo.encode(pixels, width, wish);
  const { quality, sampling } = wish;
  const raw = { width, height: pixels.byteLength / (3 * width), channels: 3 } as const;
  const data = Buffer.from(pixels.buffer, pixels.byteOffset, pixels.byteLength);
  return sharp(data, { raw, limitInputPixels: false }).jpeg({ quality, chromaSubsampling: sampling, optimiseCoding: false }).toBuffer();
}

/** A JPEG that is encoded in strips while the rest of the picture is still being made. */
export class JpegStrips {
  private readonly strips: Promise<Buffer>[] = [];

  /** @param rows of a strip; a multiple of 16 for which `stripsFit` holds. */
  constructor(
    private readonly wish: JpegWish,
    private readonly width: number,
    private readonly height: number,
    readonly rows: number,
  ) {}

  /** Begins to encode a strip, counted from 0 at the top; `pixels` are those of the whole picture. */
  add(strip: number, pixels: Uint8Array): void {
    const rowBytes = 3 * this.width;
    const end = Math.min(this.height, (strip + 1) * this.rows);
    const coded = encodeJpeg(pixels.subarray(strip * this.rows * rowBytes, end * rowBytes), this.width, this.wish);
    coded.catch(() => undefined);
    this.strips[strip] = coded;
  }

  /**
   * One JPEG, in parts, when all strips are there. Each strip becomes a restart interval, where coding begins anew (ITU-T T.81, E.1.4).
   */
  async join(): Promise<Buffer[]> {
    const strips = await Promise.all(this.strips);
    const [first] = strips;
    if (!first || strips.length !== Math.ceil(this.height / this.rows)) throw new Error('a strip is missing');
    const { head, scan } = split(first);
    const frame = Buffer.from(head);
    frame.writeUInt16BE(this.height, frameHeightAt(frame));
    const interval = Buffer.alloc(6);
    interval.writeUInt16BE(DRI, 0);
    interval.writeUInt16BE(4, 2);
    interval.writeUInt16BE(unitsIn(this.wish, this.width, this.rows), 4);
    const scans = strips.flatMap((strip, i) => [split(strip).data, Buffer.from([0xff, i < strips.length - 1 ? RESTART + (i % 8) : END])]);
    return [Buffer.concat([frame, interval, scan]), ...scans];
  }
}

/** The parts of a JPEG with one scan: all before the scan's header, that header, and the coded data. */
function split(jpeg: Buffer): { head: Buffer; scan: Buffer; data: Buffer } {
  const at = segments(jpeg).find(({ marker }) => marker === SOS)?.at;
  if (at === undefined) throw new Error('a strip without a scan');
  const begin = at + 2 + jpeg.readUInt16BE(at + 2);
  return { head: jpeg.subarray(0, at), scan: jpeg.subarray(at, begin), data: jpeg.subarray(begin, jpeg.length - 2) };
}

function frameHeightAt(head: Buffer): number {
  const frame = segments(head).find(({ marker }) => marker === 0xffc0);
  if (!frame) throw new Error('a strip that is not a baseline JPEG');
  return frame.at + 5;
}

/** Marker segments from the start up to the first scan. */
function segments(jpeg: Buffer): { marker: number; at: number }[] {
  const found: { marker: number; at: number }[] = [];
  for (let at = 2; at + 4 <= jpeg.length;) {
    const marker = jpeg.readUInt16BE(at);
    found.push({ marker, at });
    if (marker === SOS) break;
    at += 2 + jpeg.readUInt16BE(at + 2);
  }
  return found;
}
