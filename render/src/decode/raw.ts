// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- words for a package without any, wherever this file is read from
/// <reference path="./libraw-wasm.d.ts" />
import fs from 'node:fs/promises';
import { createRequire } from 'node:module';
import path from 'node:path';
import sharp from 'sharp';
import { endingOf, isRawName, rawEndings, THUMB_EDGE } from '@bexlen/api';
import { BexlenError, echoed, encode, shownAsShot } from '@bexlen/core';
import { putBackLights } from './highlights';
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
  readonly dng_version?: number;
  readonly color_data?: {
    readonly black?: number;
    readonly maximum?: number;
    readonly cam_mul?: readonly number[];
    readonly rgb_cam?: readonly (readonly number[])[];
    readonly dng_color?: readonly { readonly colormatrix: readonly (readonly number[])[] }[];
  };
  /** The part that is the picture, as the camera says. */
  readonly raw_inset_crops?: readonly { readonly cleft: number; readonly ctop: number; readonly cwidth: number; readonly cheight: number }[];
}

/**
 * LibRaw's settings: the camera's white balance, adaptive homogeneity-directed interpolation, 16 bits with the curve of Rec. 709 of light as the camera sees it, each channel up to where its
 * sensor is full.
 */
const SETTINGS = { outputColor: 0, outputBps: 16, useCameraWb: true, noAutoBright: true, userQual: 3, highlight: 1 };

/** Linear sRGB to linear Display P3 (CSS Color Module Level 4). */
const TO_P3 = [
  [0.8224619687, 0.1775380313, 0],
  [0.0331941989, 0.9668058011, 0],
  [0.0170826307, 0.0723974407, 0.9105199286],
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
  const cropbox = cropOf(told);
  if (cropbox) readable(name, () => raw.open(bytes, { ...SETTINGS, cropbox }));
  const { width, height, colors, bits, data } = readable(name, () => raw.imageData());
  if (colors !== 3 || bits !== 16) throw unread(name);
  const pixels = new Uint16Array(data.buffer, data.byteOffset, width * height * 3);
  // Which matrix is used is known once it was developed.
  const matrix = matrixOf(readable(name, () => raw.metadata(true)));
  const gains = gainsOf(told);
  if (!gains || !matrix) throw unread(name);
  const headroom = Math.max(...gains) / Math.min(...gains);
  const most = Math.max(...gains);
  const [r, g, b] = gains;
  toLight(pixels);
  putBackLights(pixels, width, height, [(65535 * r) / most, (65535 * g) / most, (65535 * b) / most]);
  toDisplayP3(pixels, matrix);
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

type Three = readonly [number, number, number];

/** What red, green and blue are multiplied by for the camera's white; nothing where they cannot be told. Recovered highlights can be brighter than white by as much as they differ. */
function gainsOf({ color_data: colour }: Told): Three | undefined {
  const [r = 0, g = 0, b = 0] = colour?.cam_mul ?? [];
  if ((colour?.maximum ?? 1) <= (colour?.black ?? 0)) return undefined;
  // A file that says nothing of its white is taken as balanced.
  if (r === 0 && g === 0 && b === 0) return [1, 1, 1];
  return [r, g, b].every((v) => Number.isFinite(v) && v > 0) ? [r, g, b] : undefined;
}

/** From the camera's balanced light to linear Display P3; nothing where that leads nowhere. */
function matrixOf({ color_data: colour, dng_version: dng = 0 }: Told): readonly [Three, Three, Three] | undefined {
  if (dng > 0 && colour?.dng_color?.every(({ colormatrix }) => colormatrix.flat().every((v) => v === 0))) return undefined;
  const camera = colour?.rgb_cam ?? [];
  const made = TO_P3.map((row) =>
    [0, 1, 2].map((c) => row.reduce<number>((sum, v, k) => sum + v * (camera[k]?.[c] ?? 0), 0)),
  ) as unknown as readonly [Three, Three, Three];
  // White stays white.
  return made.every((row) => Math.abs(row[0] + row[1] + row[2] - 1) < 0.05) ? made : undefined;
}

/** The part of a sensor that is the picture, where that is not all of it: left, top, width, height, as it lies. */
function cropOf({ raw_inset_crops: crops }: Told): readonly number[] | undefined {
  const [crop] = crops ?? [];
  return crop && crop.cwidth > 0 && crop.cheight > 0 ? [crop.cleft, crop.ctop, crop.cwidth, crop.cheight] : undefined;
}

/** Rec. 709 encoded values to light (ITU-R BT.709-6, 1.2). */
const light709 = (v: number): number => (v < 0.081 ? v / 4.5 : ((v + 0.099) / 1.099) ** (1 / 0.45));

/** From values as LibRaw has them to linear light, in place. */
function toLight(pixels: Uint16Array): void {
  const lights = Uint16Array.from({ length: 65536 }, (_, i) => Math.round(65535 * light709(i / 65535)));
  for (let i = 0; i < pixels.length; i++) pixels[i] = lights[pixels[i] as number] as number;
}

/** From the camera's light to encoded Display P3, in place. */
function toDisplayP3(pixels: Uint16Array, [[a, b, c], [d, e, f], [g, h, k]]: readonly [Three, Three, Three]): void {
  const fine = 1 << 16;
  const encoding = Uint16Array.from({ length: fine + 1 }, (_, i) => Math.round(65535 * encode((i / fine) ** 2)));
  const written = (linear: number): number => encoding[Math.round(fine * Math.sqrt(Math.min(1, Math.max(0, linear))))] as number;
  for (let i = 0; i < pixels.length; i += 3) {
    const [x, y, z] = [(pixels[i] as number) / 65535, (pixels[i + 1] as number) / 65535, (pixels[i + 2] as number) / 65535];
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
