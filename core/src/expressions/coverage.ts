import { inTurn, moveBy, type Matrix } from '../geometry/matrix';
import type { FilmPlace } from '../geometry/shape';
import { lumaOf, type Gamut } from '../pixels/gamut';
import { gaussian, point, type Image, type Table } from './image';
import type { OpId } from './ops';

/** A map from pixels to the photo as the kernels read it: by whole pixels, in room for twelve floats. */
function mapTable(map: Matrix): number[] {
  const whole = inTurn(moveBy(0.5, 0.5), map);
  return [...whole.map((v) => v / whole[8]), 0, 0, 0];
}
/** Where pixels lie on the photo, or on the finished picture. */
type Placed = Pick<FilmPlace, 'map' | 'edge'>;
/** Coverage by place. */
/** Coverage by place, or what else depends on nothing else. */
export function placed(op: OpId, { map }: Placed, rest: readonly number[]): Image {
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

/** Coverage of tones, by luma of a gamut's encoded values: none at `none`, all from `all` on; the same from the other end. */
export const tones = (from: Image, [none, all, allTo, noneFrom]: readonly [number, number, number, number], gamut?: Gamut): Image =>
  point('tones', [from], [none, 1 / Math.max(all - none, 1e-4), noneFrom, 1 / Math.max(noneFrom - allTo, 1e-4), ...lumaOf(gamut)]);

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
/** No coverage anywhere. */
export const nothing = (place: FilmPlace): Image => scaled(strip({ x: 0, y: 0, angleDeg: 0, from: 0, rise: 1, to: 0, fall: 1 }, place), 0, 0);

/** Coverage led along the edges of a picture: a guided filter (K. He et al. 2010). */
export function alongEdges(coverage: Image, picture: Image, sigmaPx: number): Image {
  const lines = point('fitShade', [gaussian(point('amountMoments', [picture, coverage]), sigmaPx)], [AMOUNT_EDGE]);
  return point('guided', [picture, gaussian(lines, sigmaPx)]);
}
/** How uneven tones must be to count as an edge for coverage: some six levels of 8 bits. */
const AMOUNT_EDGE = 6e-4;

/** What strokes make of coverage; and of a map of light, where they add up. */
export const painted = (coverage: Image, table: Table): Image => point('brush', [coverage], [], table);
export const lit = (coverage: Image, table: Table): Image => point('lights', [coverage], [], table);

/** Coverage as a picture of greys. */
export const greys = (coverage: Image): Image => point('greys', [coverage]);

/** The lesser of two coverages. */
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

/** Coverage of a shape of four straight sides, given as lines. */
export const quad = (sides: readonly number[]): Image =>
  point('quad', [], [], { id: `quad ${sides.join(' ')}`, make: () => Float32Array.from(sides) });
