import { decode, encode, type Gamut } from '@bexlen/core';
import { broughtIn, linearFrom } from '@bexlen/core/pixels/gamut';
import type { Decoded } from './decode';

/** What a colour profile says of a photo. */
export interface Primaries {
  /** The primaries that a photo with this profile is worked on in. */
  readonly gamut: Gamut;
  /** Its values are those of that gamut as they stand. */
  readonly native: boolean;
}

type Xyz = readonly [number, number, number];
/** Red, green and blue of linear sRGB and of Display P3 in the space that profiles meet in, D50 (as profiles of these have them, adapted by Bradford's matrix). */
const SRGB: readonly Xyz[] = [
  [0.4361, 0.2225, 0.0139],
  [0.3851, 0.7169, 0.0971],
  [0.1431, 0.0606, 0.7142],
];
const P3: readonly [Xyz, Xyz, Xyz] = [
  [0.5151, 0.2412, -0.0011],
  [0.292, 0.6922, 0.0419],
  [0.1571, 0.0666, 0.7841],
];
const NEAR = 0.003;
/** How far beyond 0..1 of linear sRGB the primaries of a profile lie that is called wide. */
const WIDE = 0.05;
/** XYZ of D50 to linear sRGB: the inverse of the columns above. */
const TO_SRGB: readonly Xyz[] = [
  [3.1339, -1.6169, -0.4906],
  [-0.9788, 1.9161, 0.0335],
  [0.0719, -0.229, 1.4052],
];
const PROBES = [0.02, 0.1, 0.25, 0.5, 0.75, 0.95];

/** What an ICC profile says (ICC.1:2022). One that is not made of three primaries and curves, or is no wider than sRGB, is worked on in sRGB. */
export function primariesOf(icc: Buffer): Primaries {
  const columns = ['rXYZ', 'gXYZ', 'bXYZ'].map((name) => xyzOf(icc, name));
  const curves = ['rTRC', 'gTRC', 'bTRC'].map((name) => curveOf(icc, name));
  if (columns.some((it) => !it) || curves.some((it) => !it)) return { gamut: 'srgb', native: false };
  const are = (known: readonly Xyz[]): boolean => columns.every((xyz, i) => xyz?.every((v, c) => Math.abs(v - (known[i]?.[c] as number)) < NEAR));
  const encodedAlike = curves.every((curve) => PROBES.every((v) => Math.abs((curve?.(v) ?? NaN) - decode(v)) < NEAR));
  if (are(SRGB)) return { gamut: 'srgb', native: encodedAlike };
  if (are(P3)) return { gamut: 'display-p3', native: encodedAlike };
  const isWide = columns.some((xyz) =>
    TO_SRGB.some((row) => {
      const v = row.reduce((sum, weight, c) => sum + weight * (xyz?.[c] ?? 0), 0);
      return v < -WIDE || v > 1 + WIDE;
    }),
  );
  return { gamut: isWide ? 'display-p3' : 'srgb', native: false };
}

/** XYZ of D50 to linear Display P3: the inverse of the columns above. */
const TO_P3: readonly Xyz[] = inverse(P3);
/** Entries of the table that encodes light. */
const FINE = 1 << 16;
/** How far from grey to the edge of Display P3, in linear light, colours surely stay as they are. */
const SURELY = 0.5;
/** Colours so far beyond what Display P3 holds, as a multiple of it, come to lie on its edge: further than any that is to be seen. */
const FURTHEST = 8;

/**
 * Pixels with a profile that `primariesOf` calls wide as 16 bits of Display P3. What that cannot hold is brought in at its hue, as from Display P3 into sRGB
 * (`broughtIn`).
 */
export function inP3({ layout, pixels }: Decoded, icc: Buffer): Decoded {
  const { width, height, channels, depth } = layout;
  const columns = ['rXYZ', 'gXYZ', 'bXYZ'].map((name) => xyzOf(icc, name) ?? [0, 0, 0]);
  const most = depth === 16 ? 65535 : 255;
  const lights = ['rTRC', 'gTRC', 'bTRC'].map((name) => {
    const curve = curveOf(icc, name) ?? decode;
    return Float32Array.from({ length: most + 1 }, (_, i) => curve(i / most));
  });
  const [m = [], n = [], o = []] = TO_P3.map((row) => columns.map((xyz) => row.reduce((sum, v, c) => sum + v * (xyz[c] ?? 0), 0)));
  const encoding = Uint16Array.from({ length: FINE + 1 }, (_, i) => Math.round(65535 * encode((i / FINE) ** 2)));
  const from = depth === 16 ? new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 2) : pixels;
  const made = { ...layout, depth: 16 } as const;
  const out = new Uint16Array(width * height * channels);
  const [red, green, blue] = lights as [Float32Array, Float32Array, Float32Array];
  const row = ([a = 0, b = 0, c = 0]: readonly number[], x: number, y: number, z: number): number => a * x + b * y + c * z;
  const written = (linear: number): number => encoding[Math.round(FINE * Math.sqrt(Math.min(1, Math.max(0, linear))))] as number;
  for (let i = 0; i < width * height * channels; i += channels) {
    const [x, y, z] = [red[from[i] as number] as number, green[from[i + 1] as number] as number, blue[from[i + 2] as number] as number];
    let [r, g, b] = [row(m, x, y, z), row(n, x, y, z), row(o, x, y, z)];
    const grey = Math.min(1, Math.max(0, 0.229 * r + 0.6917 * g + 0.0793 * b));
    const beyond = Math.max(reach(r, grey), reach(g, grey), reach(b, grey));
    if (beyond > SURELY) [r, g, b] = broughtIn(linearFrom('display-p3', [r, g, b]), 'display-p3', FURTHEST);
    out[i] = written(r);
    out[i + 1] = written(g);
    out[i + 2] = written(b);
    if (channels === 4) out[i + 3] = depth === 16 ? (from[i + 3] as number) : 257 * (from[i + 3] as number);
  }
  return { layout: made, pixels: new Uint8Array(out.buffer) };
}

/** How far a value lies from grey: 1 at black or white. */
function reach(v: number, grey: number): number {
  if (v > grey) return (v - grey) / Math.max(1e-4, 1 - grey);
  return (grey - v) / Math.max(1e-4, grey);
}
/** The matrix back to what columns came from. */
function inverse([[a, d, g], [b, e, h], [c, f, i]]: readonly [Xyz, Xyz, Xyz]): Xyz[] {
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return [
    [(e * i - f * h) / det, (c * h - b * i) / det, (b * f - c * e) / det],
    [(f * g - d * i) / det, (a * i - c * g) / det, (c * d - a * f) / det],
    [(d * h - e * g) / det, (b * g - a * h) / det, (a * e - b * d) / det],
  ];
}

/** Where a tag lies in a profile (ICC.1:2022, 7.3). */
function tagOf(icc: Buffer, name: string): Buffer | undefined {
  if (icc.length < 132) return undefined;
  const count = Math.min(icc.readUInt32BE(128), 100);
  for (let i = 0; i < count && 144 + 12 * i <= icc.length; i++) {
    const at = 132 + 12 * i;
    if (icc.toString('latin1', at, at + 4) !== name) continue;
    const [from, length] = [icc.readUInt32BE(at + 4), icc.readUInt32BE(at + 8)];
    return from + length <= icc.length ? icc.subarray(from, from + length) : undefined;
  }
  return undefined;
}

const fixed = (data: Buffer, at: number): number => data.readInt32BE(at) / 65536;

function xyzOf(icc: Buffer, name: string): Xyz | undefined {
  const tag = tagOf(icc, name);
  return tag && tag.length >= 20 ? [fixed(tag, 8), fixed(tag, 12), fixed(tag, 16)] : undefined;
}

/** A tone curve: by a table, a power, or a formula of up to seven numbers (ICC.1:2022, 10.6 and 10.18). */
function curveOf(icc: Buffer, name: string): ((v: number) => number) | undefined {
  const tag = tagOf(icc, name);
  if (!tag || tag.length < 12) return undefined;
  const kind = tag.toString('latin1', 0, 4);
  if (kind === 'para') {
    const type = tag.readUInt16BE(8);
    const numbers = [1, 3, 4, 5, 7][type] ?? 0;
    if (numbers === 0 || tag.length < 12 + 4 * numbers) return undefined;
    const [g = 1, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = Array.from({ length: numbers }, (_, i) => fixed(tag, 12 + 4 * i));
    if (type === 0) return (v) => v ** g;
    if (type === 1 || type === 2) return (v) => (v >= -b / a ? (a * v + b) ** g : 0) + (type === 2 ? c : 0);
    return (v) => (v >= d ? (a * v + b) ** g + e : c * v + f);
  }
  if (kind !== 'curv') return undefined;
  const count = tag.readUInt32BE(8);
  if (count === 0) return (v) => v;
  if (tag.length < 12 + 2 * count) return undefined;
  if (count === 1) return (v) => v ** (tag.readUInt16BE(12) / 256);
  return (v) => {
    const at = Math.min(count - 2, Math.floor(v * (count - 1)));
    const [low, high] = [tag.readUInt16BE(12 + 2 * at), tag.readUInt16BE(14 + 2 * at)];
    return (low + (high - low) * (v * (count - 1) - at)) / 65535;
  };
}
