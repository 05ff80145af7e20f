import zlib from 'node:zlib';
import type { Metadata } from '../decode/metadata';

const JFIF = 0xffe0;
/** What the segments of a JPEG begin with (CIPA DC-008, 4.5.4; XMP Specification, part 3, 1.1.3). */
const EXIF = Buffer.from('Exif\0\0', 'latin1');
const XMP = Buffer.from('http://ns.adobe.com/xap/1.0/\0', 'latin1');
/** The segment that holds IPTC's records among other resources begins with fourteen bytes of its own (IPTC-NAA IIM in JPEG). */
export const RESOURCES = Buffer.from('50686f746f73686f7020332e3000', 'hex');
const [APP1, APP13] = [0xe1, 0xed];
/** A segment tells its length in two bytes, which count too. */
const MOST = 65_533;

/** A JPEG with metadata put in behind JFIF's segment, in parts. What is longer than a segment is left out. */
export function withJpegMetadata(jpeg: Buffer, { exif, xmp, iptc }: Metadata): Buffer[] {
  const at = jpeg.readUInt16BE(2) === JFIF ? 4 + jpeg.readUInt16BE(4) : 2;
  const segment = (marker: number, ...parts: Buffer[]): Buffer[] => {
    const body = Buffer.concat(parts);
    return body.length > MOST ? [] : [Buffer.from([0xff, marker, (body.length + 2) >> 8, (body.length + 2) & 255]), body];
  };
  const wrapped = iptc && (iptc.subarray(0, RESOURCES.length).equals(RESOURCES) ? iptc : Buffer.concat([RESOURCES, iptc]));
  return [
    jpeg.subarray(0, at),
    ...(exif ? segment(APP1, EXIF, exif) : []),
    ...(xmp ? segment(APP1, XMP, xmp) : []),
    ...(wrapped ? segment(APP13, wrapped) : []),
    jpeg.subarray(at),
  ];
}

/** Length of a PNG's signature and header chunk. */
const AFTER_HEADER = 33;

/** A PNG with metadata in chunks of its own behind the header (PNG, third edition, 11.3.3 and 11.3.4). */
export function withPngMetadata([head, ...rest]: readonly Buffer[], { exif, xmp }: Metadata): Buffer[] {
  if (!head || head.length !== AFTER_HEADER) throw new Error('a PNG is given in parts, its header first');
  const text = (body: Buffer): Buffer => Buffer.concat([Buffer.from('XML:com.adobe.xmp\0\0\0\0\0', 'latin1'), body]);
  return [head, ...(exif ? chunk('eXIf', exif) : []), ...(xmp ? chunk('iTXt', text(xmp)) : []), ...rest];
}

function chunk(type: string, data: Buffer): Buffer[] {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const frame = Buffer.alloc(8);
  frame.writeUInt32BE(data.length, 0);
  frame.writeUInt32BE(zlib.crc32(body), 4);
  return [frame.subarray(0, 4), body, frame.subarray(4)];
}
