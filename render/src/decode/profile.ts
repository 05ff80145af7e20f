import zlib from 'node:zlib';
import sharp from 'sharp';
import type { Gamut } from '@bexlen/core';

const profiles = new Map<Gamut, Promise<Buffer>>();

/** The ICC profile of some primaries. */
export function profileOf(gamut: Gamut = 'srgb'): Promise<Buffer> {
  const known = profiles.get(gamut) ?? makeProfile(gamut);
  profiles.set(gamut, known);
  return known;
}

async function makeProfile(gamut: Gamut): Promise<Buffer> {
  const sample = await sharp({ create: { width: 1, height: 1, channels: 3, background: 'grey' } })
    .withIccProfile(gamut === 'srgb' ? 'srgb' : 'p3')
    .png()
    .toBuffer();
  const { icc } = await sharp(sample).metadata();
  if (!icc) throw new Error(`no profile for ${gamut}`);
  return icc;
}

/** Length of a PNG's signature and header chunk, after which the profile stands (PNG, third edition, 5.6 and 11.3.2.3). */
const AFTER_HEADER = 33;

/** A PNG with a profile put into it; its pixels are not touched. Returned in parts, to be written one after another. */
export function withPngProfile(png: Buffer, profile: Buffer, name: string): Buffer[] {
  const body = Buffer.concat([Buffer.from('iCCP'), Buffer.from(`${name}\0\0`, 'latin1'), zlib.deflateSync(profile)]);
  const frame = Buffer.alloc(8);
  frame.writeUInt32BE(body.length - 4, 0);
  frame.writeUInt32BE(zlib.crc32(body), 4);
  return [png.subarray(0, AFTER_HEADER), frame.subarray(0, 4), body, frame.subarray(4), png.subarray(AFTER_HEADER)];
}

const JFIF = 0xffe0;

/** A JPEG with a profile put in before its first segment, or behind it where that is JFIF's, which has to be the first (ICC.1:2022, annex B.4; ITU-T T.871, 10.1), in parts. */
export function withJpegProfile(jpeg: Buffer, profile: Buffer): Buffer[] {
  const at = jpeg.readUInt16BE(2) === JFIF ? 4 + jpeg.readUInt16BE(4) : 2;
  const body = Buffer.concat([Buffer.from('ICC_PROFILE\0', 'latin1'), Buffer.from([1, 1]), profile]);
  const head = Buffer.from([0xff, 0xe2, (body.length + 2) >> 8, (body.length + 2) & 255]);
  return [jpeg.subarray(0, at), head, body, jpeg.subarray(at)];
}
