// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- words for a package without any, wherever this file is read from
/// <reference path="./libraw-wasm.d.ts" />
import fs from 'node:fs/promises';
import { createRequire } from 'node:module';
import path from 'node:path';
import sharp from 'sharp';
import { endingOf, isRawName, rawEndings, THUMB_EDGE } from '@bexlen/api';
import { BexlenError, echoed, encode, shownAsShot } from '@bexlen/core';
import { checkSize, MAX_PIXELS } from './limits';
import { profileOf, withPngProfile } from './profile';

const RAW_FORMATS: ReadonlySet<string> = new Set(rawEndings.map((ending) => ending.toUpperCase()));

/** The format of a raw file, by its name; nothing, if it is called otherwise. */
export const rawFormatOf = (name: string): string | undefined => (isRawName(name) ? endingOf(name).toUpperCase() : undefined);
export const isRawFormat = (format: string): boolean => RAW_FORMATS.has(format);

/** What of LibRaw is used, as its binding exports it. */
interface Libraw {
  readonly LibRaw: new () => {
    open(bytes: Uint8Array, settings: Readonly<Record<string, unknown>>): unknown;
    metadata(all: boolean): Told;
    /** The largest picture that the camera stored with it, if it is of a kind that LibRaw knows. */
    thumbnailData(): Stored | undefined;
    delete(): void;
    imageData(): { width: number; height: number; colors: number; bits: number; data: Uint8Array | Uint16Array };
  };
}
interface Stored {
  readonly format: string;
  readonly data: Uint8Array;
  readonly width: number;
  readonly height: number;
}
interface Told {
  readonly width: number;
  readonly height: number;
  readonly timestamp?: number | Date;
  readonly color_data?: { readonly cam_mul?: readonly number[] };
}

/**
 * LibRaw's settings: the camera's white balance and matrix, adaptive homogeneity-directed interpolation, highlights blended from the channels that are not
 * full, 16 bits with the curve of Rec. 709 in a space that is wider than any screen.
 */
const SETTINGS = { outputColor: 4, outputBps: 16, useCameraWb: true, noAutoBright: true, userQual: 3, highlight: 2 };

/** LibRaw's wide space to linear Display P3: the inverse of its matrix `prophoto_rgb`, from linear sRGB, then that to Display P3 (CSS Color Module Level 4). */
const TO_P3 = [
  [1.632423, -0.379596, -0.252822],
  [-0.153692, 1.166697, -0.013007],
  [0.010386, -0.06281, 1.052426],
] as const;

/** What is known of a raw file once it is developed. */
export interface Developed {
  /** Light that the largest value stands for, as a multiple of white. */
  readonly headroom: number;
  /** When it was taken, as its camera says. */
  readonly takenAt?: string;
}

/**
 * Develops a raw file into a PNG of 16 bits in Display P3, upright, with the camera's white balance: all the light that the sensor holds, not yet as it is shown (`headroom`).
 * @throws {BexlenError} `unsupported-format` where the camera is unknown or the file is damaged, `too-many-pixels`.
 */
export async function develop(file: string, name: string, to: string): Promise<Developed> {
  const bytes = await fs.readFile(file);
  const { LibRaw } = await (library ??= newLibrary());
  const raw = new LibRaw();
  try {
    return await written(name, raw, bytes, to);
  } finally {
    raw.delete();
  }
}

/** The picture of a raw file that its camera stored in it, as a small upright JPEG; nothing where there is none. @throws {BexlenError} `unsupported-format`. */
export async function storedPreview(file: string, name: string): Promise<Uint8Array | undefined> {
  const bytes = await fs.readFile(file);
  const { LibRaw } = await (library ??= newLibrary());
  const raw = new LibRaw();
  try {
    const stored = readable(name, () => (raw.open(bytes, SETTINGS), raw.thumbnailData()));
    // What does not fit its own numbers, or is no picture, is left out: the developed one comes anyway.
    return stored && (await smallJpeg(stored).catch(() => undefined));
  } finally {
    raw.delete();
  }
}

const limits = { limitInputPixels: MAX_PIXELS } as const;
function smallJpeg({ format, data, width, height }: Stored): Promise<Buffer> {
  const image = format === 'jpeg' ? sharp(data, limits) : sharp(data, { ...limits, raw: { width, height, channels: 3 } });
  return image.autoOrient().resize(THUMB_EDGE, THUMB_EDGE, { fit: 'inside', withoutEnlargement: true }).jpeg({ quality: 86 }).toBuffer();
}

async function written(name: string, raw: InstanceType<Libraw['LibRaw']>, bytes: Uint8Array, to: string): Promise<Developed> {
  readable(name, () => raw.open(bytes, SETTINGS));
  const told = readable(name, () => raw.metadata(true));
  checkSize(name, { width: told.width, height: told.height, channels: 3 }, 16);
  const { width, height, colors, bits, data } = readable(name, () => raw.imageData());
  if (colors !== 3 || bits !== 16) throw unread(name);
  const pixels = new Uint16Array(data.buffer, data.byteOffset, width * height * 3);
  const headroom = headroomOf(told);
  toDisplayP3(pixels);
  const png = await sharp(pixels, { raw: { width, height, channels: 3 }, limitInputPixels: false })
    .toColourspace('rgb16')
    .png({ compressionLevel: 1 })
    .toBuffer();
  const handle = await fs.open(to, 'w');
  try {
    for (const part of withPngProfile(png, await profileOf('display-p3'), 'Display P3')) await handle.writeFile(part);
  } finally {
    await handle.close();
  }
  const at = told.timestamp instanceof Date ? told.timestamp.getTime() : (told.timestamp ?? 0) * 1000;
  return { headroom, ...(at > 0 && { takenAt: new Date(at).toISOString().slice(0, 19) }) };
}

/** One instance for all files of this process: the memory of many would not be given back in time. What it holds of a file goes with the file's object. */
let library: Promise<Libraw> | undefined;

async function newLibrary(): Promise<Libraw> {
  const { default: newLibraw } = await import('libraw-wasm/dist/libraw.js');
  // Found from the program that runs, which lies in the house.
  const wasmBinary = await fs.readFile(createRequire(path.resolve(process.argv[1] ?? '')).resolve('libraw-wasm/dist/libraw.wasm'));
  // What it prints of damaged files is said in a sentence.
  const silent = (): void => undefined;
  return (await newLibraw({ wasmBinary, print: silent, printErr: silent })) as Libraw;
}

/** What LibRaw makes; where it throws, a sentence. */
function readable<T>(name: string, act: () => T): T {
  try {
    return act();
  } catch (error) {
    // After a trap its memory is not to be trusted.
    if (error instanceof WebAssembly.RuntimeError) library = undefined;
    throw unread(name);
  }
}

const unread = (name: string): BexlenError =>
  new BexlenError(
    'unsupported-format',
    `${echoed(name)} is damaged, or of a camera that is not known here.`,
    'Copy it again from where it came from, or save it as DNG or TIFF first.',
  );

/** How much brighter than white recovered highlights can be: blending them makes room for the most amplified channel. */
function headroomOf({ color_data: colour }: Told): number {
  const gains = (colour?.cam_mul ?? []).slice(0, 3).filter((v) => v > 0);
  return gains.length === 3 ? Math.max(...gains) / Math.min(...gains) : 1;
}

/** Rec. 709 encoded values to light (ITU-R BT.709-6, 1.2). */
const light709 = (v: number): number => (v < 0.081 ? v / 4.5 : ((v + 0.099) / 1.099) ** (1 / 0.45));

/** From values as LibRaw has them to encoded Display P3, in place. */
function toDisplayP3(pixels: Uint16Array): void {
  const lights = Float32Array.from({ length: 65536 }, (_, i) => light709(i / 65535));
  const fine = 1 << 16;
  const encoding = Uint16Array.from({ length: fine + 1 }, (_, i) => Math.round(65535 * encode((i / fine) ** 2)));
  const [[a, b, c], [d, e, f], [g, h, k]] = TO_P3;
  const written = (linear: number): number => encoding[Math.round(fine * Math.sqrt(Math.min(1, Math.max(0, linear))))] as number;
  for (let i = 0; i < pixels.length; i += 3) {
    const [x, y, z] = [lights[pixels[i] as number] as number, lights[pixels[i + 1] as number] as number, lights[pixels[i + 2] as number] as number];
    pixels[i] = written(a * x + b * y + c * z);
    pixels[i + 1] = written(d * x + e * y + f * z);
    pixels[i + 2] = written(g * x + h * y + k * z);
  }
}

/** Small pixels of what a raw file was developed into, of 16 bits, as bytes of how it is shown when nothing was chosen. */
export function bytesAsShot(pixels: Uint16Array, headroom: number): Uint8Array {
  const out = new Uint8Array(pixels.length);
  const part = (i: number): number => (pixels[i] as number) / 65535;
  for (let i = 0; i < pixels.length; i += 3)
    out.set(
      shownAsShot([part(i), part(i + 1), part(i + 2)], headroom).map((v) => Math.round(255 * Math.min(1, v))),
      i,
    );
  return out;
}
