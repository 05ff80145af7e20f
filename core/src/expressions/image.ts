import { unit } from '../clamp';
import type { ModeId } from '../blend';
import { inTurn, moveBy, scaleBy, type Matrix } from '../geometry/matrix';
import type { FilmPlace } from '../geometry/shape';
import { tabulate } from '../pixels/curve';
import { decode, encode, type Rgb } from '../pixels/colour';
import { between as betweenGamuts, linearIn, type Gamut } from '../pixels/gamut';
import type { Filtering } from './filters';
import { grainTaps, orientationOf } from './grain';
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
  | { readonly make: 'photo' }
  /** Another photo's pixels as straight colour and alpha; `map` leads from whole pixels to shares of it. */
  | { readonly make: 'picture'; readonly name: string; readonly map: Matrix }
  | { readonly make: 'point'; readonly op: OpId; readonly from: readonly Image[]; readonly numbers: readonly number[]; readonly table?: Table }
  | { readonly make: 'blur'; readonly from: Image; readonly sigmaPx: number; readonly by?: Filtering }
  | {
      readonly make: 'mix';
      readonly under: Image;
      readonly over: Image;
      readonly mode: ModeId;
      readonly strength: number;
      /** Coverage by which it is mixed in. */
      readonly mask?: Image;
    };

const point = (op: OpId, from: readonly Image[], numbers: readonly number[] = [], table?: Table): Image => ({
  make: 'point',
  op,
  from,
  numbers,
  ...(table && { table }),
});

/** What a layer reads. */
export const source: Image = { make: 'source' };
/** The untouched photo, whatever a layer reads. */
export const photo: Image = { make: 'photo' };

/** colour * gain + offset. */
export const affine = (from: Image, gain: number, offset: number): Image => point('affine', [from], [gain, offset]);

/** The same tone table for red, green and blue, of `tabulate`; input held in 0..1. */
export const curve = (from: Image, table: Table): Image => point('curve', [from], [], table);

/** A tone table each for red, green and blue, one behind another. */
export const curves = (from: Image, table: Table): Image => point('curves', [from], [], table);

/** Gaussian blur with a standard deviation in pixels of the picture that is being made. Under a fifth of a pixel nothing could be seen. */
export const gaussian = (from: Image, sigmaPx: number): Image => (sigmaPx < 0.2 ? from : { make: 'blur', from, sigmaPx });

/** An image by a filter of neighbours. */
export const filtered = (from: Image, filter: string, numbers: readonly number[]): Image => ({
  make: 'blur',
  from,
  sigmaPx: 0,
  by: { filter, numbers },
});

/** One image mixed over another, 0..1 of it, by coverage if they are given. */
export const mix = (mode: ModeId, under: Image, over: Image, strength = 1, mask?: Image): Image =>
  strength === 0 ? under : { make: 'mix', under, over, mode, strength, ...(mask && { mask }) };

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

/** An encoded picture of some primaries in those of another: what these cannot hold comes inside by its chroma alone. */
export function converted(from: Image, was: Gamut, is: Gamut): Image {
  if (was === is) return from;
  return fromLinear(is === 'srgb' ? point('narrow', [toLinear(from)]) : matrix(toLinear(from), betweenGamuts(was, is)));
}

const NONE = [
  [0, 0, 0],
  [0, 0, 0],
  [0, 0, 0],
] as const;
/** One colour wherever an image is. */
export const flat = (from: Image, colour: readonly [number, number, number]): Image => matrix(from, NONE, colour);

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

/** Film grain as a pixel shows it. */
export interface Speckle {
  /** Lattice points to a pixel's side. */
  readonly cells: number;
  /** Standard deviation on the film, at its strongest. */
  readonly deviation: number;
  /** Own grain in each colour, middle tones only: 0..1. */
  readonly tint: number;
  readonly middle: number;
  readonly seed: number;
}

/** Film grain that turns and mirrors with the film, by quarter turns; where the film lies at another angle, it stands with the pixels. */
export function filmGrain(from: Image, { cells, deviation, tint, middle, seed }: Speckle, place: FilmPlace): Image {
  const taps = grainTaps(cells);
  const { way, left, top, backX, backY } = orientationOf(place, cells <= 1);
  return point('filmGrain', [from], [taps.cells, taps.reach, taps.taps, deviation * taps.gain, tint, middle, seed, left, top, way, backX, backY], {
    id: `grain ${cells}`,
    make: taps.weights,
  });
}

/** A map from pixels to the photo as the kernels read it: by whole pixels, in room for twelve floats. */
function mapTable(map: Matrix): number[] {
  const whole = inTurn(moveBy(0.5, 0.5), map);
  return [...whole.map((v) => v / whole[8]), 0, 0, 0];
}
/** Where pixels lie on the photo, or on the finished picture. */
type Placed = Pick<FilmPlace, 'map' | 'edge'>;
/** Coverage by place. */
function placed(op: OpId, { map }: Placed, rest: readonly number[]): Image {
  const numbers = [...mapTable(map), ...rest];
  return point(op, [], [], { id: `${op} ${numbers.join(' ')}`, make: () => Float32Array.from(numbers) });
}

/** Share of a border in which an amount goes from none to all: at least a pixel and a half, so that no stairs are seen. */
const leastPx = 1.5;
/** One over a length, of at least so many pixels. */
const steep = (length: number, { edge }: Placed): number => 1 / Math.max(length, leastPx / edge);

export interface Oval {
  /** Its middle, radii and angle (clockwise, in degrees), from the photo's middle in shares of the long edge. */
  readonly x: number;
  readonly y: number;
  readonly across: number;
  readonly down: number;
  readonly angleDeg: number;
  /** 0 an ellipse, 1 a rounded box. */
  readonly box: number;
  /** Where the inner border lies, as a share of the radii. */
  readonly inner: number;
}

/** Coverage of an oval, 1 inside. */
export function oval({ x, y, across, down, angleDeg, box, inner }: Oval, place: Placed): Image {
  const angle = (angleDeg * Math.PI) / 180;
  const radius = Math.min(across, down);
  return placed('oval', place, [x, y, Math.cos(angle), Math.sin(angle), 1 / across, 1 / down, box, steep((1 - inner) * radius, place) * radius]);
}

export interface Strip {
  /** A place, from the photo's middle in shares of the long edge, and the direction across the strip, in degrees clockwise from downwards. */
  readonly x: number;
  readonly y: number;
  readonly angleDeg: number;
  /** Where it begins and how long it takes to be whole; where it ends, and how long it takes to be gone before that. */
  readonly from: number;
  readonly rise: number;
  readonly to: number;
  readonly fall: number;
}

/** Coverage of a straight strip. */
export function strip({ x, y, angleDeg, from, rise, to, fall }: Strip, place: Placed): Image {
  const angle = (angleDeg * Math.PI) / 180;
  return placed('strip', place, [x, y, -Math.sin(angle), Math.cos(angle), from, steep(rise, place), to, steep(fall, place)]);
}

/** Coverage from a small map of the whole photo, of so many values across; `id` names it with all that it depends on. */
export function mapped(id: string, width: number, height: number, make: () => Float32Array, { map }: FilmPlace): Image {
  const head = [...mapTable(map), width, height, Math.max(width, height), 0];
  const table = (): Float32Array => {
    const values = make();
    const whole = new Float32Array(head.length + values.length);
    whole.set(head);
    whole.set(values, head.length);
    return whole;
  };
  return point('mapped', [], [], { id: `mapped ${head.join(' ')} ${id}`, make: table });
}

/** Coverage of tones: none at `none`, all from `all` on; the same from the other end. */
export const tones = (from: Image, [none, all, allTo, noneFrom]: readonly [number, number, number, number]): Image =>
  point('tones', [from], [none, 1 / Math.max(all - none, 1e-4), noneFrom, 1 / Math.max(noneFrom - allTo, 1e-4)]);

/** Coverage of OKLab colours (of an image in OKLab): all up to a distance, none from `soft` further on. */
export function colours(from: Image, all: readonly (readonly [number, number, number])[], near: number, soft: number): Image {
  const numbers = [all.length, near, 1 / Math.max(soft, 1e-4), 0, ...all.flatMap((colour) => [...colour, 0])];
  return point('colours', [from], [], { id: `colours ${numbers.join(' ')}`, make: () => Float32Array.from(numbers) });
}

/**
 * Coverage of edges: what tones vary by under a Gaussian window. Where they rise evenly that is the gradient times the window's deviation, the gradient at a scale in its
 * normal form (T. Lindeberg, "Edge detection and ridge detection with automatic scale selection", 1998).
 */
export const edges = (from: Image, sigmaPx: number, least: number, soft: number): Image =>
  point('edges', [gaussian(point('moments', [from]), sigmaPx)], [least, 1 / Math.max(soft, 1e-4)]);

/** gain * amount + offset, held in 0..1. */
export const scaled = (coverage: Image, gain: number, offset: number): Image =>
  gain === 1 && offset === 0 ? coverage : point('scaled', [coverage], [gain, offset]);
export const inverted = (coverage: Image): Image => scaled(coverage, -1, 1);
export const either = (a: Image, b: Image): Image => point('either', [a, b]);
export const both = (a: Image, b: Image): Image => point('both', [a, b]);
/** The one at 0, the other at 1. */
export const between = (a: Image, b: Image, t: number): Image => (t === 1 ? b : point('between', [a, b], [t]));
/** Coverage that are nothing anywhere. */
export const nothing = (place: FilmPlace): Image => scaled(strip({ x: 0, y: 0, angleDeg: 0, from: 0, rise: 1, to: 0, fall: 1 }, place), 0, 0);

/** Coverage led along the edges of a picture: a guided filter (K. He et al. 2010). */
export function alongEdges(coverage: Image, picture: Image, sigmaPx: number): Image {
  const lines = point('fitShade', [gaussian(point('amountMoments', [picture, coverage]), sigmaPx)], [AMOUNT_EDGE]);
  return point('guided', [picture, gaussian(lines, sigmaPx)]);
}
/** How uneven tones must be to count as an edge for coverage: some six levels of 8 bits. */
const AMOUNT_EDGE = 6e-4;

/** Linear light changed by stops that stand in coverage, times `stops`; see the kernel. */
export const exposed = (light: Image, map: Image, stops: number, whites: number, soft: number): Image =>
  point('exposed', [light, map], [stops, whites, soft]);

/** What strokes make of coverage; and of a map of light, where they add up. */
export const painted = (coverage: Image, table: Table): Image => point('brush', [coverage], [], table);
export const lit = (coverage: Image, table: Table): Image => point('lights', [coverage], [], table);

/** Coverage as a picture of greys. */
export const greys = (coverage: Image): Image => point('greys', [coverage]);

/** ka a + kb b. */
export const sum = (a: Image, b: Image, ka = 1, kb = 1): Image => point('sum', [a, b], [ka, kb]);
/** Bent towards white above a knee, by the brightest channel. */
export const shoulder = (from: Image, knee: number): Image => point('shoulder', [from], [knee]);
/** What tones differ from their blur, added: amount, the least difference, and how far light and dark rims go at most. */
export const crisp = (from: Image, blurred: Image, amount: number, threshold: number, light: number, dark: number): Image =>
  point('crisp', [from, blurred], [amount, threshold, light, dark]);

/** Light that spreads far in a long tail: a sum of three Gaussians whose shares are 1 together, so that no light is lost. */
export const longTail = (from: Image, sigmaPx: number): Image =>
  sum(sum(gaussian(from, 0.35 * sigmaPx), gaussian(from, sigmaPx), 0.5, 0.3), gaussian(from, 2.6 * sigmaPx), 1, 0.2);

/** An image where coverage is, black elsewhere. */
export const only = (from: Image, coverage: Image): Image => mix('normal', flat(from, [0, 0, 0]), from, 1, coverage);
/** Each channel times a gain. */
export const gains = (from: Image, [r, g, b]: readonly [number, number, number]): Image =>
  matrix(from, [
    [r, 0, 0],
    [0, g, 0],
    [0, 0, b],
  ]);

export interface Dust {
  /** Cells of the lattice along the film's long edge, and the share of them that hold something. */
  readonly cells: number;
  readonly density: number;
  /** Radius of the largest speck and width of hairs, in cells; the share of hairs; a seed. */
  readonly size: number;
  readonly width: number;
  readonly hairs: number;
  readonly seed: number;
}

/** Coverage of dust and hairs that lie on the film. */
export function dust({ cells, density, size, width, hairs, seed }: Dust, { map, edge }: FilmPlace): Image {
  const finest = (0.7 * cells) / edge;
  return placed('dust', { map: inTurn(map, scaleBy(cells, cells)), edge }, [density, size, hairs, width, finest, seed, 0, 0]);
}

/** The lesser of two coverage. */
export const lesser = (a: Image, b: Image): Image => point('lesser', [a, b]);

export interface Clearing extends Omit<Oval, 'inner'> {
  /** How far it goes on until its end, in shares of the radius, as it lies. */
  readonly right: number;
  readonly left: number;
  readonly below: number;
  readonly above: number;
}

/** How far out of an oval places lie: 0 within its radii, 1 from its end on. */
export function beyond({ x, y, across, down, angleDeg, box, right, left, below, above }: Clearing, place: Placed): Image {
  const angle = (angleDeg * Math.PI) / 180;
  const radius = Math.min(across, down);
  const ends = [right, left, below, above].map((share) => Math.max(share, leastPx / place.edge / radius));
  return placed('beyond', place, [x, y, Math.cos(angle), Math.sin(angle), 1 / across, 1 / down, box, 0, ...ends]);
}

/** A colour from pixels times coverage, blurred by its own way: what no amount let through is not in it. Where nothing is near, the image stays as it is. */
export const amongst = (from: Image, coverage: Image, blurred: (of: Image) => Image): Image =>
  point('evened', [from, blurred(point('weighed', [from, coverage]))]);

export interface Paper {
  /** Cells of its tooth along the film's long edge, the share of fibres 0..1, where light comes from in degrees, a seed. */
  readonly cells: number;
  readonly fibre: number;
  readonly lightDeg: number;
  readonly seed: number;
}

/** Light and shade of paper on the film, in coverage about a half. */
export function paper({ cells, fibre, lightDeg, seed }: Paper, { map, edge }: FilmPlace): Image {
  const way = (lightDeg * Math.PI) / 180;
  const perPixel = cells / edge;
  const step = Math.max(0.3, 0.7 * perPixel);
  const fine = unit(1.2 - 1.6 * perPixel);
  return placed('paper', { map: inTurn(map, scaleBy(cells, cells)), edge }, [
    fibre,
    seed,
    Math.sin(way) * step,
    -Math.cos(way) * step,
    fine,
    0,
    0,
    0,
  ]);
}
/** Colour in the light and shade of coverage about a half. */
export const shaded = (from: Image, coverage: Image, amount: number): Image => point('shaded', [from, coverage], [amount]);

/** Another photo, by the name under which it was provided; `map` leads from pixels of what is made to shares 0..1 of its width and height. */
export const pictureOf = (name: string, map: Matrix): Image => ({ make: 'picture', name, map });
/** Straight colour and alpha of a picture, apart. */
export const colourOf = (from: Image): Image => point('colourOf', [from]);
export const alphaOf = (from: Image): Image => point('alphaOf', [from]);
/** Coverage of a shape of four straight sides, given as lines. */
export const quad = (sides: readonly number[]): Image =>
  point('quad', [], [], { id: `quad ${sides.join(' ')}`, make: () => Float32Array.from(sides) });
