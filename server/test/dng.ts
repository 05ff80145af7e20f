import { losslessJpeg } from './lossless-jpeg';
import { TiffWriter, type Tag } from './tiff';

/** How the made-up camera sees white: what green lies over red and blue by. */
const NEUTRAL = [0.5, 1, 0.6] as const;
const BLACK = 512;
const WHITE = 16383;
/** XYZ of D65 to linear sRGB (IEC 61966-2-1). */
const TO_SRGB = [
  [3.2404542, -1.5371385, -0.4985314],
  [-0.969266, 1.8760108, 0.041556],
  [0.0556434, -0.2040259, 1.0572252],
] as const;
/** Which channel lies where in a square of two by two. */
const PATTERNS = { RGGB: [0, 1, 1, 2], BGGR: [2, 1, 1, 0], GRBG: [1, 0, 2, 1], GBRG: [1, 2, 0, 1] } as const;

interface Preview {
  readonly jpeg: Buffer;
  readonly width: number;
  readonly height: number;
}

/** How cameras and phones differ in what they write. */
export interface Camera {
  readonly pattern?: keyof typeof PATTERNS;
  readonly bits?: 12 | 14 | 16;
  /** As lossless JPEG, in tiles of so many pixels each way if that is said, else whole. */
  readonly compressed?: boolean;
  readonly tile?: number;
  /** Three samples a pixel, as programs write what they have developed half. */
  readonly linear?: boolean;
  readonly black?: number;
  readonly white?: number;
  readonly neutral?: readonly number[];
  readonly matrix?: readonly (readonly number[])[];
  /** What it sees of linear sRGB, by rows whose sum is 1; the same, unless said. */
  readonly sees?: readonly (readonly number[])[];
  /** Exif 2.32, tag 0x0112. */
  readonly orientation?: number;
  /** The part of the mosaic that is the picture: left, top, width, height. */
  readonly crop?: readonly [number, number, number, number];
  /** A small JPEG in the first directory, with the raw image in one of its own below. */
  readonly thumbnail?: Preview;
  /** A JPEG of the scene, in a directory behind the first one. */
  readonly preview?: Preview;
  /** Matrices for two kinds of light, the second one daylight. */
  readonly twoLights?: boolean;
  /** A correction of the lens that changes nothing and may be left out. */
  readonly opcodes?: boolean;
  /** What the camera notes of itself and its lens. */
  readonly notes?: { readonly make: string; readonly model: string; readonly lens: string; readonly seconds: readonly [number, number] };
}

type Scene = (x: number, y: number) => readonly [number, number, number];

/**
 * A small digital negative (DNG 1.4) of a made-up camera, of what a scene sends, in linear sRGB, where 1 fills green to `filled` of what the sensor holds.
 * @param scene the light at a pixel.
 */
export function madeDng(width: number, height: number, scene: Scene, filled = 0.9, camera: Camera = {}): Buffer {
  const file = new TiffWriter();
  const raw = rawImage(file, width, height, scene, filled, camera);
  const colours = colourTags(camera);
  const { thumbnail, preview, notes, orientation = 1 } = camera;
  const head: Tag[] = [
    [271, 2, `${notes?.make ?? 'Made'}\0`],
    [272, 2, `${notes?.model ?? 'Made up'}\0`],
    [274, 3, [orientation]],
    [50706, 1, [1, 4, 0, 0]],
    [50707, 1, [1, 1, 0, 0]],
    [50708, 2, 'Made up camera\0'],
    ...(notes ? [[34665, 4, [file.directory(notesOf(notes))]] as Tag] : []),
    ...colours,
  ];
  const behind = preview ? file.directory(jpegTags(file, preview)) : 0;
  const first = thumbnail ? [...jpegTags(file, thumbnail), ...head, [330, 4, [file.directory(raw)]] as Tag] : [...raw, ...head];
  return file.end(file.directory(first, behind));
}

const AS_IT_IS = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
] as const;
const through = (matrix: readonly (readonly number[])[], light: readonly number[]): number[] =>
  matrix.map((row) => row.reduce((sum, v, c) => sum + v * (light[c] ?? 0), 0));

function colourTags({ neutral = NEUTRAL, matrix, twoLights, sees = AS_IT_IS }: Camera): Tag[] {
  const ratio = (v: number): number[] => [Math.round(v * 10_000), 10_000];
  const toCamera =
    matrix ?? sees.map((row, i) => [0, 1, 2].map((c) => (neutral[i] as number) * row.reduce((sum, v, k) => sum + v * (TO_SRGB[k]?.[c] ?? 0), 0)));
  const day = toCamera.flatMap((row) => row.flatMap(ratio));
  // By lamplight this camera sees other colours.
  const lamp = toCamera.flatMap((row, i) => row.flatMap((v, c) => ratio(v * (i === c ? 1.2 : 0.9))));
  return [
    [50721, 10, twoLights ? lamp : day],
    ...(twoLights ? ([[50722, 10, day]] as const) : []),
    [50728, 5, neutral.flatMap(ratio)],
    [50778, 3, [twoLights ? 17 : 21]],
    ...(twoLights ? ([[50779, 3, [21]]] as const) : []),
  ];
}

const notesOf = ({ lens, seconds }: NonNullable<Camera['notes']>): Tag[] => [
  [33434, 5, seconds],
  [34855, 3, [400]],
  [36864, 7, [48, 50, 51, 50]],
  [36867, 2, '2024:05:01 12:30:00\0'],
  [42036, 2, `${lens}\0`],
];

const jpegTags = (file: TiffWriter, { jpeg, width, height }: Preview): Tag[] => [
  [254, 4, [1]],
  [256, 4, [width]],
  [257, 4, [height]],
  [258, 3, [8, 8, 8]],
  [259, 3, [7]],
  [262, 3, [6]],
  [273, 4, [file.add(jpeg)]],
  [277, 3, [3]],
  [278, 4, [height]],
  [279, 4, [jpeg.length]],
];

function rawImage(file: TiffWriter, width: number, height: number, scene: Scene, filled: number, camera: Camera): Tag[] {
  const { pattern = 'RGGB', bits = 16, compressed = false, linear = false, neutral = NEUTRAL, crop } = camera;
  const white = camera.white ?? Math.min(WHITE, 2 ** bits - 1);
  const black = camera.black ?? BLACK >> Math.max(0, 14 - bits);
  const samples = linear ? 3 : 1;
  const values = new Uint16Array(width * height * samples);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const light = through(camera.sees ?? AS_IT_IS, scene(x, y));
      for (let s = 0; s < samples; s++) {
        const channel = linear ? s : (PATTERNS[pattern][2 * (y % 2) + (x % 2)] as number);
        const value = (light[channel] as number) * (neutral[channel] as number) * filled * (white - black) + black;
        values[(y * width + x) * samples + s] = Math.min(white, Math.max(0, Math.round(value)));
      }
    }
  const tile = camera.tile ?? 0;
  const packed = (part: Uint16Array, across: number, down: number): Buffer =>
    compressed ? losslessJpeg(part, across, down, samples, bits) : inBits(part, across * samples, bits);
  const places: number[] = [];
  const lengths: number[] = [];
  for (let top = 0; top < height; top += tile || height)
    for (let left = 0; left < width; left += tile || width) {
      const part = tile ? tileOf(values, width, height, samples, left, top, tile) : values;
      const bytes = packed(part, tile || width, tile || height);
      places.push(file.add(bytes));
      lengths.push(bytes.length);
    }
  return [
    [254, 4, [0]],
    [256, 4, [width]],
    [257, 4, [height]],
    [258, 3, Array<number>(samples).fill(bits)],
    [259, 3, [compressed ? 7 : 1]],
    [262, 3, [linear ? 34892 : 32803]],
    [277, 3, [samples]],
    [284, 3, [1]],
    ...(tile
      ? ([
          [322, 4, [tile]],
          [323, 4, [tile]],
          [324, 4, places],
          [325, 4, lengths],
        ] as const)
      : ([
          [273, 4, places],
          [278, 4, [height]],
          [279, 4, lengths],
        ] as const)),
    ...(linear
      ? []
      : ([
          [33421, 3, [2, 2]],
          [33422, 1, PATTERNS[pattern]],
          [50713, 3, [1, 1]],
        ] as const)),
    [50714, 3, Array<number>(samples).fill(black)],
    [50717, 4, Array<number>(samples).fill(white)],
    ...(crop
      ? ([
          [50719, 4, crop.slice(0, 2)],
          [50720, 4, crop.slice(2)],
        ] as const)
      : []),
    ...(camera.opcodes ? ([[51022, 7, [...opcodes()]]] as const) : []),
  ];
}

/** A part of an image, its last values repeated where it goes beyond. */
function tileOf(values: Uint16Array, width: number, height: number, samples: number, left: number, top: number, tile: number): Uint16Array {
  const out = new Uint16Array(tile * tile * samples);
  for (let y = 0; y < tile; y++)
    for (let x = 0; x < tile; x++)
      for (let s = 0; s < samples; s++) {
        const [u, v] = [Math.min(width - 1, left + x), Math.min(height - 1, top + y)];
        out[(y * tile + x) * samples + s] = values[(v * width + u) * samples + s] as number;
      }
  return out;
}

/** Rows of values in as few bits as they need, the highest first, each row filled up to whole bytes; of 16 bits as this file's words are. */
function inBits(values: Uint16Array, across: number, bits: number): Buffer {
  if (bits === 16) return Buffer.from(values.buffer, values.byteOffset, values.byteLength);
  const rowBytes = Math.ceil((across * bits) / 8);
  const out = Buffer.alloc((rowBytes * values.length) / across);
  for (let i = 0; i < values.length; i++) {
    const at = Math.floor(i / across) * rowBytes * 8 + (i % across) * bits;
    for (let b = 0; b < bits; b++)
      if (((values[i] as number) >> (bits - 1 - b)) & 1) out[(at + b) >> 3] = (out[(at + b) >> 3] as number) | (128 >> ((at + b) & 7));
  }
  return out;
}

/** A list of one opcode (DNG 1.4, chapter 7): WarpRectilinear, optional, that leaves all where it is. */
function opcodes(): Buffer {
  const out = Buffer.alloc(4 + 16 + 4 + 64);
  [1, 1, 0x01030000, 1, 68, 1].forEach((v, i) => out.writeUInt32BE(v, 4 * i));
  [1, 0, 0, 0, 0, 0, 0.5, 0.5].forEach((v, i) => out.writeDoubleBE(v, 24 + 8 * i));
  return out;
}
