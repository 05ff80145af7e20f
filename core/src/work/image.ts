import type { ModeId } from '../blend';
import { tabulate } from '../masks/curve';
import { decode, encode } from '../pixels/colour';
import type { OpId } from './ops';

/** Numbers that lie in memory while they are used. `id` names them with all they depend on: the same id means the same numbers. */
export interface Table {
  readonly id: string;
  readonly make: () => Float32Array;
}

/**
 * An image as an expression: what is to be made of which images. Nothing is computed when one is written down; the engine makes each
 * expression once, however often it is used, and makes what it can in one visit.
 */
export type Image =
  | { readonly make: 'source' }
  | { readonly make: 'point'; readonly op: OpId; readonly from: readonly Image[]; readonly numbers: readonly number[]; readonly table?: Table }
  | { readonly make: 'blur'; readonly from: Image; readonly sigmaPx: number }
  | { readonly make: 'mix'; readonly under: Image; readonly over: Image; readonly mode: ModeId; readonly strength: number };

const point = (op: OpId, from: readonly Image[], numbers: readonly number[] = [], table?: Table): Image => ({
  make: 'point',
  op,
  from,
  numbers,
  ...(table && { table }),
});

/** What a layer reads. */
export const source: Image = { make: 'source' };

/** colour * gain + offset. */
export const affine = (from: Image, gain: number, offset: number): Image => point('affine', [from], [gain, offset]);

/** The same tone table for red, green and blue, of `tabulate`; input held in 0..1. */
export const curve = (from: Image, table: Table): Image => point('curve', [from], [], table);

/** A tone table each for red, green and blue, one behind another. */
export const curves = (from: Image, table: Table): Image => point('curves', [from], [], table);

/** Gaussian blur with a standard deviation in pixels of the picture that is being made. Under a fifth of a pixel nothing could be seen. */
export const gaussian = (from: Image, sigmaPx: number): Image => (sigmaPx < 0.2 ? from : { make: 'blur', from, sigmaPx });

/** One image mixed over another, 0..1 of it. */
export const mix = (mode: ModeId, under: Image, over: Image, strength = 1): Image =>
  strength === 0 ? under : { make: 'mix', under, over, mode, strength };

/** A curve each for red, green and blue, by straight lines between entries; the table is of the kind Cube. */
export const ramps = (from: Image, table: Table): Image => point('ramps', [from], [], table);
/** Colour through a lattice of colours, by tetrahedra between entries; the table is of the kind Cube. */
export const lattice = (from: Image, table: Table): Image => point('lattice', [from], [], table);

const decoding: Table = { id: 'decoding', make: () => tabulate(decode) };
const encoding: Table = { id: 'encoding', make: () => tabulate(encode) };
export const toLinear = (from: Image): Image => point('toLinear', [from], [], decoding);
export const fromLinear = (from: Image): Image => point('fromLinear', [from], [], encoding);
export const toOklab = (from: Image): Image => point('toOklab', [from], [], decoding);
export const fromOklab = (from: Image): Image => point('fromOklab', [from], [], encoding);

/** Rows that red, green and blue of the result are made by, and what is added. */
export type Rows = readonly [readonly number[], readonly number[], readonly number[]];

/** Colour through a 3 x 3 matrix, given by rows, and an offset. */
export function matrix(from: Image, [r, g, b]: Rows, offset: readonly number[] = [0, 0, 0]): Image {
  const columns = [0, 1, 2].flatMap((i) => [r[i] ?? 0, g[i] ?? 0, b[i] ?? 0, 0]);
  const numbers = [...columns, ...offset, 0];
  return point('matrix', [from], [], { id: `matrix ${numbers.join(' ')}`, make: () => Float32Array.from(numbers) });
}

/** post * (pre * v) ^ power for each channel; nothing below 0. */
export const raise = (from: Image, pre: number, power: number, post: number): Image => point('raise', [from], [pre, power, post]);

/** The ASC colour decision list: slope, offset and power for each channel, and saturation. */
export function cdl(from: Image, slope: readonly number[], offset: readonly number[], power: readonly number[], saturation: number): Image {
  const numbers = [...slope, 1, ...offset, 0, ...power, 1, saturation];
  return point('cdl', [from], [], { id: `cdl ${numbers.join(' ')}`, make: () => Float32Array.from(numbers) });
}

/** OKLab by lightness; the table is of `lightnessTable`. */
export const byTone = (from: Image, table: Table): Image => point('byTone', [from], [], table);
/** How uneven colour must be to count as an edge: about three levels of 8 bits, as the noise and the blocks of a JPEG are. */
const COLOUR_EDGE = 3e-4;

/**
 * Encoded colour smoothed along its own edges, its tone left as it is: a guided filter (K. He et al. 2010) of what red and blue differ from the tone, by themselves.
 * What is left of colour in a pale sky, the noise and the blocks of a JPEG, evens out; where one colour meets another, as at a leaf against the sky, all stays.
 */
export function smoothColour(from: Image, sigmaPx: number): Image {
  const lines = point('fitColour', [gaussian(point('chromaMoments', [from]), sigmaPx)], [COLOUR_EDGE]);
  return point('smoothed', [from, gaussian(lines, sigmaPx)]);
}
/** OKLab by the hue and chroma of another OKLab colour; the table is of `hueTable`. `knee` is the chroma at which it works by half. */
export const byHue = (from: Image, by: Image, table: Table, knee: number): Image => point('byHue', [from, by], [knee], table);
/** OKLab chroma times 1 + gain, sparing strong chroma by `protect`, 0..1. */
export const chroma = (from: Image, gain: number, protect: number): Image => point('chroma', [from], [gain, protect]);

/** A base that keeps edges: guided filter of the tones (K. He et al. 2010), as lines to be used by `detail`. */
export const base = (from: Image, sigmaPx: number, leastVariance: number): Image =>
  gaussian(point('fitLine', [gaussian(point('moments', [from]), sigmaPx)], [leastVariance]), sigmaPx);
/** What differs from the base, added `amount` times. */
export const detail = (from: Image, lines: Image, amount: number): Image => point('detail', [from, lines], [amount]);

/** e^(-steep x) over 0..1, and back, 1024 steps and one more. */
const darkness = (steep: number): Table => ({
  id: `darkness ${steep}`,
  make: () => Float32Array.from({ length: 1025 }, (_, i) => Math.exp((-steep * i) / 1023)),
});
const lightness = (steep: number): Table => ({
  id: `lightness ${steep}`,
  make: () => Float32Array.from({ length: 1025 }, (_, i) => Math.min(1, -Math.log(Math.max(i / 1023, 1e-4)) / steep)),
});
const STEEP = 8;

/** How hazy each place is, as lines to be used by `clear`: dark channel (K. He et al. 2009) with a smooth least value, refined along the picture's edges. */
export function haze(from: Image, nearPx: number, widePx: number): Image {
  const dark = gaussian(point('shade', [from], [], darkness(STEEP)), nearPx);
  const moments = gaussian(point('shadeMoments', [from, dark], [], lightness(STEEP)), widePx);
  return gaussian(point('fitShade', [moments], [1e-3]), widePx);
}
/** Takes haze of a tone off. */
export const clear = (from: Image, lines: Image, amount: number, air: number): Image => point('clear', [from, lines], [amount, air]);

/**
 * Film grain: lattice cells for each pixel (up to 1), standard deviation, own grain in each colour 0..1, middle tones only 0..1, a seed, and where on the
 * film the first pixel lies, in pixels.
 */
export const grain = (from: Image, cells: number, amount: number, tint: number, middle: number, seed: number, x: number, y: number): Image =>
  point('grain', [from], [cells, amount, tint, middle, seed, x, y]);
