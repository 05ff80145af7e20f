import type { Handle } from '@bexlen/core';
import type { Point } from './places';
import { clearingOf, endOf, onBorder, ovalOf, stripOf, turned, type Numbers } from './shapes';

/** Where a shape fades: beside a straight edge, `from` so far out of its origin and to the end; or around a middle, by directions of its own in radians. */
type Fade =
  | { readonly straight: true; readonly origin: Point; readonly along: Point; readonly out: Point; readonly from: number; readonly to: number }
  | { readonly straight: false; readonly middle: Point; readonly edge: (way: number) => Point; readonly end: (way: number) => Point };

/** A mark of the scale that runs from where a shape is whole to where it ends. */
export interface Tick {
  readonly at: Point;
  /** Which way it lies, of length 1. */
  readonly way: Point;
  /** 0 where the shape is whole, 1 where it ends. */
  readonly share: number;
}

/** What of the photo is in sight: its middle, and how far it reaches, in places; and how long a pixel of the screen is. */
export interface Sight {
  readonly middle: Point;
  readonly reach: number;
  readonly pixel: number;
}

/** From one mark of a row to the next, and from one row to the next at least, in pixels of the screen. */
const APART = 30;
const ROWS_APART = 24;
/** Marks around an oval: so many at least and at most. */
const AROUND = { least: 16, most: 96 };
const MOST_IN_A_ROW = 120;

/** How long a mark is, in pixels of the screen: a dot at the beginning, longest at the end. */
export const tickLength = (share: number): number => 1.5 + 11.5 * share ** 1.5;

const rowsOf = (pixels: number): readonly number[] =>
  pixels >= 4 * ROWS_APART ? [0, 0.25, 0.5, 0.75, 1] : pixels >= 2 * ROWS_APART ? [0, 0.5, 1] : [0, 1];
const at = (origin: Point, a: Point, along: number, b: Point, across: number): Point => ({
  x: origin.x + a.x * along + b.x * across,
  y: origin.y + a.y * along + b.y * across,
});

/** Rows beside a straight edge, as far as they are in sight. */
function beside({ origin, along, out, from, to }: Extract<Fade, { straight: true }>, { middle, reach, pixel }: Sight): Tick[] {
  const off = (middle.x - origin.x) * along.x + (middle.y - origin.y) * along.y;
  const step = Math.max(APART * pixel, (2 * reach) / MOST_IN_A_ROW);
  const [first, last] = [Math.ceil((off - reach) / step), Math.floor((off + reach) / step)];
  const places = Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => (first + i) * step);
  return rowsOf(Math.abs(to - from) / pixel).flatMap((share) =>
    places.map((place) => ({ at: at(origin, along, place, out, from + (to - from) * share), way: out, share })),
  );
}

/** Rows around a middle, each mark on a ray from it. */
function around({ middle, edge, end }: Extract<Fade, { straight: false }>, { pixel }: Sight): Tick[] {
  const ends = Array.from({ length: 32 }, (_, i) => end((Math.PI * i) / 16));
  const round = ends.reduce((sum, b, i) => sum + Math.hypot(b.x - (ends[(i + 31) % 32] as Point).x, b.y - (ends[(i + 31) % 32] as Point).y), 0);
  const many = Math.max(AROUND.least, Math.min(AROUND.most, 4 * Math.round(round / pixel / APART / 4)));
  const ways = Array.from({ length: many }, (_, i) => (2 * Math.PI * i) / many);
  const wide = Math.hypot(end(0).x - edge(0).x, end(0).y - edge(0).y) / pixel;
  return ways.flatMap((way) => {
    const [a, b] = [edge(way), end(way)];
    const arm = { x: b.x - middle.x, y: b.y - middle.y };
    const length = Math.max(1e-9, Math.hypot(arm.x, arm.y));
    const out = { x: arm.x / length, y: arm.y / length };
    return rowsOf(wide).map((share) => ({ at: { x: a.x + (b.x - a.x) * share, y: a.y + (b.y - a.y) * share }, way: out, share }));
  });
}

/** Where a shape fades: none of a picture, a point or a spot. */
function fadesOf(handle: Handle, values: Numbers): Fade[] {
  if (handle.shape === 'oval' || handle.shape === 'clearing') {
    const oval = handle.shape === 'oval' ? ovalOf(handle, values) : undefined;
    if (oval)
      return [
        { straight: false, middle: oval, edge: (way) => onBorder(oval, way, Math.max(0.02, oval.inner)), end: (way) => onBorder(oval, way, 1) },
      ];
    const clearing = clearingOf(handle, values);
    return [
      { straight: false, middle: clearing, edge: (way) => onBorder(clearing, way, 1), end: (way) => onBorder(clearing, way, endOf(clearing, way)) },
    ];
  }
  if (handle.shape !== 'band' && handle.shape !== 'ramp') return [];
  const { x, y, angle, half, before, after, length } = stripOf(handle, values);
  const straight = { straight: true, origin: { x, y }, along: turned({ x: 1, y: 0 }, angle), out: turned({ x: 0, y: 1 }, angle) } as const;
  return handle.shape === 'ramp'
    ? [{ ...straight, from: 0, to: length }]
    : [
        { ...straight, from: -half, to: -half - before },
        { ...straight, from: half, to: half + after },
      ];
}

/**
 * The scale of a shape: rows of marks that grow from where it is whole to where it ends, like those beside a fader.
 * @returns none for a shape without a fade, a picture or a point.
 */
export const ticksOf = (handle: Handle, values: Numbers, sight: Sight): Tick[] =>
  fadesOf(handle, values).flatMap((fade) => (fade.straight ? beside(fade, sight) : around(fade, sight)));
