import { tabulate } from '../pixels/curve';
import { decode, encode, type Rgb } from '../pixels/colour';
import { between as betweenGamuts, edgeOf, linearIn, type Gamut } from '../pixels/gamut';
import { flat, gaussian, matrix, point, type Image, type Rows, type Table } from './image';

const decoding: Table = { id: 'decoding', make: () => tabulate(decode) };
/** What sRGB holds. */
const edge: Table = { id: 'edge', make: () => edgeOf('srgb') };
const encoding: Table = { id: 'encoding', make: () => tabulate(encode) };
export const toLinear = (from: Image): Image => point('toLinear', [from], [], decoding);
export const fromLinear = (from: Image): Image => point('fromLinear', [from], [], encoding);
export const toOklab = (from: Image): Image => point('toOklab', [from], [], decoding);
export const fromOklab = (from: Image): Image => point('fromOklab', [from], [], encoding);

/** Linear light through a matrix that is written for the primaries of sRGB: the same colours in a picture of other primaries. */
export function lightMatrix(from: Image, [r, g, b]: Rows, gamut: Gamut = 'srgb'): Image {
  if (gamut === 'srgb') return matrix(from, [r, g, b]);
  const [into, out] = [betweenGamuts('srgb', gamut), betweenGamuts(gamut, 'srgb')];
  return matrix(from, product(product(into, [r, g, b]), out));
}

const product = (a: Rows, b: Rows): Rows =>
  a.map((row) => [0, 1, 2].map((i) => row.reduce((sum, v, k) => sum + v * (b[k]?.[i] ?? 0), 0))) as unknown as Rows;

/** One colour of linear light, given in sRGB, wherever an image of linear light is. */
export const flatLight = (from: Image, linear: Rgb, gamut: Gamut = 'srgb'): Image => flat(from, linearIn(gamut, linear));

/** Light above `knee` brought under white, all channels alike, so that its hue stays; `room` becomes white. */
export const rollOff = (from: Image, knee: number, room: number): Image => point('rollOff', [from], [knee, room]);

/** An encoded picture of some primaries in those of another: what these cannot hold comes inside at its hue, from what the first can hold. */
export function converted(from: Image, was: Gamut, is: Gamut): Image {
  if (was === is) return from;
  return fromLinear(is === 'srgb' ? point('narrow', [toLinear(from)], [], edge) : matrix(toLinear(from), betweenGamuts(was, is)));
}

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

/** Bent towards white above a knee, by the brightest channel. */
export const shoulder = (from: Image, knee: number): Image => point('shoulder', [from], [knee]);

/** Linear light changed by stops that stand in coverage, times `stops`; see the kernel. */
export const exposed = (light: Image, map: Image, stops: number, whites: number, soft: number): Image =>
  point('exposed', [light, map], [stops, whites, soft]);
