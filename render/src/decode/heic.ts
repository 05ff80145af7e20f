// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- words for a package without any, wherever this file is read from
/// <reference path="./libheif-js.d.ts" />
import fs from 'node:fs/promises';
import sharp from 'sharp';
import { BexlenError } from '@bexlen/core';
import { checkSize } from './limits';
import { profileOf, withPngProfile } from './profile';

/** The functions of libheif that are used, as Emscripten exports them: a structure that is returned is written to where the first parameter says. */
interface Libheif {
  readonly HEAPU8: Uint8Array;
  _malloc(bytes: number): number;
  _free(at: number): void;
  _heif_context_alloc(): number;
  _heif_context_free(context: number): void;
  _heif_context_read_from_memory(error: number, context: number, at: number, bytes: number, options: number): void;
  _heif_context_get_primary_image_handle(error: number, context: number, handle: number): void;
  _heif_image_handle_release(handle: number): void;
  _heif_image_handle_get_width(handle: number): number;
  _heif_image_handle_get_height(handle: number): number;
  _heif_image_handle_has_alpha_channel(handle: number): number;
  _heif_image_handle_get_luma_bits_per_pixel(handle: number): number;
  _heif_image_handle_get_nclx_color_profile(error: number, handle: number, profile: number): void;
  _heif_nclx_color_profile_free(profile: number): void;
  _heif_decode_image(error: number, handle: number, image: number, colourSpace: number, chroma: number, options: number): void;
  _heif_decoding_options_alloc(): number;
  _heif_decoding_options_free(options: number): void;
  _heif_image_get_decoding_warnings(image: number, first: number, to: number, most: number): number;
  _heif_image_release(image: number): void;
  _heif_image_get_plane_readonly(image: number, channel: number, stride: number): number;
}

/** Of heif_image.h: RGB, its interleaved forms of one byte and of two, and the channel they lie in. */
const RGB = 1;
const INTERLEAVED = { 8: [10, 11], 16: [14, 15] } as const;
const CHANNEL = 10;
/** Where its options say that nothing damaged is to be made up for. */
const STRICT = 21;
/** Of ITU-T H.273: primaries of Display P3 and of television of high definition and beyond; transfers of film and HDR. */
const P3 = 12;
const NARROW = [1, 2, 5, 6, 7];
const TRANSFERS = [1, 2, 6, 13, 14, 15];

/** What a head read by sharp says of HEVC in HEIF. */
export const isHeic = ({ format, compression }: { readonly format?: string; readonly compression?: string | undefined }): boolean =>
  format === 'heif' && compression === 'hevc';

/**
 * Writes a HEIC photo (ISO/IEC 23008-12) as a PNG of the same pixels, upright, with its profile: of 8 bits, or of 16 where it has more. What lies in it is decoded by libheif. Throws
 * `damaged-picture`, `unsupported-format` and `too-many-pixels`.
 */
export async function develop(file: string, name: string, to: string): Promise<void> {
  // Few files need it, and every reader would wait for it.
  const { default: newLibheif } = await import('libheif-js/libheif-wasm/libheif-bundle.js');
  const heif = newLibheif() as Libheif;
  const bytes = await fs.readFile(file);
  const { width, height, depth, channels, pixels, primaries } = decoded(heif, bytes, name);
  const raw = sharp(pixels, { raw: { width, height, channels }, limitInputPixels: false });
  const png = await (depth === 16 ? raw.toColourspace('rgb16') : raw).png({ compressionLevel: 1 }).toBuffer();
  const { icc } = await sharp(file, { limitInputPixels: false }).metadata();
  const profile = icc ?? (primaries === P3 ? await profileOf('display-p3') : undefined);
  await fs.writeFile(to, profile ? withPngProfile(png, profile, 'ICC') : [png]);
}

interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
  readonly channels: 3 | 4;
  readonly pixels: Uint8Array | Uint16Array;
  /** Of ITU-T H.273; 2 where the file does not say. */
  readonly primaries: number;
}

function decoded(heif: Libheif, bytes: Uint8Array, name: string): Pixels {
  const free: (() => void)[] = [];
  const room = (size: number): number => {
    const at = heif._malloc(size);
    if (at === 0)
      throw new BexlenError('too-many-pixels', `${name} takes more memory to read than Bexlen allows.`, 'Make it smaller and import it again.');
    free.unshift(() => heif._free(at));
    return at;
  };
  // Memory grows: a view is made anew for every look.
  const word = (at: number): number => new DataView(heif.HEAPU8.buffer).getUint32(at, true);
  const error = room(12);
  const out = room(4);
  /** Does what may fail, and gives what it wrote. */
  const get = (act: (error: number, out: number) => void): number => {
    act(error, out);
    if (word(error) !== 0) throw damaged(name);
    return word(out);
  };
  try {
    const file = room(bytes.length);
    heif.HEAPU8.set(bytes, file);
    const context = heif._heif_context_alloc();
    free.unshift(() => heif._heif_context_free(context));
    get((e) => heif._heif_context_read_from_memory(e, context, file, bytes.length, 0));
    const handle = get((e, o) => heif._heif_context_get_primary_image_handle(e, context, o));
    free.unshift(() => heif._heif_image_handle_release(handle));
    const [width, height] = [heif._heif_image_handle_get_width(handle), heif._heif_image_handle_get_height(handle)];
    const channels = heif._heif_image_handle_has_alpha_channel(handle) ? 4 : 3;
    const bits = heif._heif_image_handle_get_luma_bits_per_pixel(handle);
    const depth = bits > 8 ? 16 : 8;
    checkSize(name, { width, height, channels }, depth);
    const primaries = coloursOf(heif, handle, error, out, name);
    const options = heif._heif_decoding_options_alloc();
    free.unshift(() => heif._heif_decoding_options_free(options));
    heif.HEAPU8[options + STRICT] = 1;
    const image = get((e, o) => heif._heif_decode_image(e, handle, o, RGB, INTERLEAVED[depth][channels - 3] as number, options));
    free.unshift(() => heif._heif_image_release(image));
    if (heif._heif_image_get_decoding_warnings(image, 0, error, 1) > 0) throw damaged(name);
    const at = heif._heif_image_get_plane_readonly(image, CHANNEL, out);
    if (at === 0) throw damaged(name);
    const rows = { at, stride: word(out), width: width * channels, height };
    return { width, height, depth, channels, primaries, pixels: depth === 8 ? bytesIn(heif, rows) : wordsIn(heif, rows, bits) };
  } finally {
    free.forEach((each) => each());
  }
}

/** The primaries that a file names. Light that is coded for screens of high dynamic range is refused, since it would come out wrong. */
function coloursOf(heif: Libheif, handle: number, error: number, out: number, name: string): number {
  const view = (): DataView => new DataView(heif.HEAPU8.buffer);
  heif._heif_image_handle_get_nclx_color_profile(error, handle, out);
  if (view().getUint32(error, true) !== 0) return 2;
  const profile = view().getUint32(out, true);
  const [primaries, transfer] = [view().getUint32(profile + 4, true), view().getUint32(profile + 8, true)];
  heif._heif_nclx_color_profile_free(profile);
  if (!TRANSFERS.includes(transfer) || !(primaries === P3 || NARROW.includes(primaries)))
    throw new BexlenError(
      'unsupported-format',
      `${name} holds light for screens of high dynamic range, which Bexlen does not read.`,
      'Save it as a photo of the usual range, then import that.',
    );
  return primaries;
}

interface Rows {
  readonly at: number;
  readonly stride: number;
  /** Samples in a row. */
  readonly width: number;
  readonly height: number;
}

function bytesIn(heif: Libheif, { at, stride, width, height }: Rows): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) out.set(heif.HEAPU8.subarray(at + y * stride, at + y * stride + width), y * width);
  return out;
}

/** Samples of `bits` bits, spread over 16. */
function wordsIn(heif: Libheif, { at, stride, width, height }: Rows, bits: number): Uint16Array {
  const out = new Uint16Array(width * height);
  const most = 2 ** bits - 1;
  for (let y = 0; y < height; y++) {
    const row = new Uint16Array(heif.HEAPU8.buffer, at + y * stride, width);
    for (let x = 0; x < width; x++) out[y * width + x] = Math.round(((row[x] as number) * 65535) / most);
  }
  return out;
}

const damaged = (name: string): BexlenError =>
  new BexlenError('damaged-picture', `${name} is damaged or cut off.`, 'Copy it again from where it came from, then import that.');
