import type { ModeId } from '../blend';
import type { Matrix } from '../geometry/matrix';
import type { Filtering } from './filters';
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

/** An image of others by an operation on each pixel. */
export const point = (op: OpId, from: readonly Image[], numbers: readonly number[] = [], table?: Table): Image => ({
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

/** One image mixed over another, 0..1 of it, by coverage if it is given. */
export const mix = (mode: ModeId, under: Image, over: Image, strength = 1, mask?: Image): Image =>
  strength === 0 ? under : { make: 'mix', under, over, mode, strength, ...(mask && { mask }) };

/** A curve each for red, green and blue, by straight lines between entries; the table is of the kind Cube. */
export const ramps = (from: Image, table: Table): Image => point('ramps', [from], [], table);
/** Colour through a lattice of colours, by tetrahedra between entries; the table is of the kind Cube. */
export const lattice = (from: Image, table: Table): Image => point('lattice', [from], [], table);

/** Rows that red, green and blue of the result are made by, and what is added. */
export type Rows = readonly [readonly number[], readonly number[], readonly number[]];

/** Colour through a 3 x 3 matrix, given by rows, and an offset. */
export function matrix(from: Image, [r, g, b]: Rows, offset: readonly number[] = [0, 0, 0]): Image {
  const columns = [0, 1, 2].flatMap((i) => [r[i] ?? 0, g[i] ?? 0, b[i] ?? 0, 0]);
  const numbers = [...columns, ...offset, 0];
  return point('matrix', [from], [], { id: `matrix ${numbers.join(' ')}`, make: () => Float32Array.from(numbers) });
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

/** ka a + kb b. */
export const sum = (a: Image, b: Image, ka = 1, kb = 1): Image => point('sum', [a, b], [ka, kb]);

/** An image where coverage is, black elsewhere. */
export const only = (from: Image, coverage: Image): Image => mix('normal', flat(from, [0, 0, 0]), from, 1, coverage);
/** Each channel times a gain. */
export const gains = (from: Image, [r, g, b]: readonly [number, number, number]): Image =>
  matrix(from, [
    [r, 0, 0],
    [0, g, 0],
    [0, 0, b],
  ]);

/** Another photo, by the name under which it was provided; `map` leads from pixels of what is made to shares 0..1 of its width and height. */
export const pictureOf = (name: string, map: Matrix): Image => ({ make: 'picture', name, map });
/** Straight colour and alpha of a picture, apart. */
export const colourOf = (from: Image): Image => point('colourOf', [from]);
export const alphaOf = (from: Image): Image => point('alphaOf', [from]);
