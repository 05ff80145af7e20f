import { cornersOf, isConvex, type Corners, type Handle, type Placing } from '@bexlen/core';
import type { Point } from './places';
import {
  along,
  clearingOf,
  endOf,
  minus,
  named,
  onBorder,
  outness,
  ovalOf,
  plus,
  stripOf,
  times,
  turned,
  type Clearing,
  type Numbers,
  type Oval,
  type Strip,
} from './shapes';
import { say } from '../words';

export interface Grip {
  readonly id: string;
  /** Named for screen readers. */
  readonly label: string;
  readonly at: Point;
  /** Which way it is drawn, in degrees; a grip for the whole has none. */
  readonly angleDeg?: number;
  /** The direction in which it gives way to others, of length 1; a grip for the whole stays where it is. */
  readonly out?: Point;
}

/** A grip as it is shown: where it would cover another, beside its place. */
export interface ShownGrip extends Grip {
  readonly shown: Point;
}

/** What is drawn of a handle, in places, beside the scale of its fade. */
export interface Drawn {
  readonly outline: readonly Point[];
  readonly grips: readonly Grip[];
  /** 1 within, 0 beyond: where a drag moves the whole, and where it turns it. */
  readonly within: (at: Point) => boolean;
}

const hold = (v: number, least: number, most: number): number => Math.min(most, Math.max(least, v));
const upright = (degrees: number): number => ((((degrees + 180) % 360) + 360) % 360) - 180;

const stripGrip = (strip: { x: number; y: number; angle: number }, id: string, label: string, way: number): Grip => ({
  id,
  label,
  at: plus(strip, turned({ x: 0, y: way }, strip.angle)),
  angleDeg: strip.angle,
  out: turned({ x: 0, y: id === 'before' ? -1 : 1 }, strip.angle),
});

/** A grip on the border of an oval, in a direction of its own: where the border lies, as a share of the outer one. */
const ovalGrip = (oval: Oval, id: string, label: string, way: number, share = 1): Grip => ({
  id,
  label,
  at: onBorder(oval, way, share),
  angleDeg: oval.angle + (way * 180) / Math.PI,
  out: turned({ x: Math.cos(way), y: Math.sin(way) }, oval.angle),
});

/** A grip is taken from so far, and keeps so far from others, in pixels of the screen. */
const REACH_PX = 26;
const APART_PX = 44;

/** Grips as they are shown where a pixel of the screen is so long: those that lie on others give way outwards, so that a finger can choose. */
export function apart(grips: readonly Grip[], pixel: number): ShownGrip[] {
  const shown: ShownGrip[] = [];
  const step = 0.5 * pixel;
  for (const grip of grips) {
    let at = grip.at;
    const covers = ({ shown: other }: ShownGrip): boolean => Math.hypot(other.x - at.x, other.y - at.y) < APART_PX * pixel;
    while (grip.out && shown.some(covers)) at = plus(at, times(grip.out, step));
    shown.push({ ...grip, shown: at });
  }
  return shown;
}

const back = (handle: Handle, changed: Readonly<Record<string, number>>): Numbers =>
  Object.fromEntries(
    Object.entries(changed).flatMap(([key, value]) => {
      const name = (handle as Record<string, unknown>)[key];
      return typeof name === 'string' ? [[name, value]] : [];
    }),
  );
const SIDES = [
  { id: 'right', label: say.onPhoto.endToTheRight, way: 0 },
  { id: 'below', label: say.onPhoto.endBelow, way: Math.PI / 2 },
  { id: 'left', label: say.onPhoto.endToTheLeft, way: Math.PI },
  { id: 'above', label: say.onPhoto.endAbove, way: -Math.PI / 2 },
] as const;
const MOST_END = 4;
const LEAST_END = 0.01;

/** A picture with its corners, by the params of its layer. */
function sheetOf(values: Numbers): Placing {
  const v = (name: string): number => values[name] ?? 0;
  const pulls = ['a', 'b', 'c', 'd'].map((corner): [number, number] => [v(`${corner}x`), v(`${corner}y`)]);
  return { x: v('x'), y: v('y'), size: v('size'), aspect: v('aspect'), angle: v('angle'), mirrored: v('mirrored') === 1, pulls };
}
const CORNERS = [say.onPhoto.leftAbove, say.onPhoto.rightAbove, say.onPhoto.rightBelow, say.onPhoto.leftBelow] as const;
const NAMES = ['a', 'b', 'c', 'd'] as const;
const points = (corners: Corners): Point[] => corners.map(([x, y]) => ({ x, y }));

function drawnSheet(values: Numbers): Drawn {
  const sheet = sheetOf(values);
  const at = points(cornersOf(sheet));
  const middle = { x: sheet.x, y: sheet.y };
  return {
    outline: [...at, at[0] as Point],
    grips: [
      { id: 'move', label: say.onPhoto.picture, at: middle },
      ...at.map((corner, i) => ({
        id: `corner-${i}`,
        label: CORNERS[i] as string,
        at: corner,
        angleDeg: sheet.angle + 45 + 90 * i,
        out: turned({ x: -Math.SQRT1_2, y: -Math.SQRT1_2 }, sheet.angle + 90 * i),
      })),
    ],
    within: (place) => {
      const sides = at.map((a, i) => {
        const b = at[(i + 1) % 4] as Point;
        return (b.x - a.x) * (place.y - a.y) - (b.y - a.y) * (place.x - a.x);
      });
      return sides.every((side) => side >= 0) || sides.every((side) => side <= 0);
    },
  };
}

/** A corner moves all of the picture about its middle, larger and turned; or itself alone, while it is pulled. */
function draggedSheet(grip: string, values: Numbers, from: Point, to: Point): Numbers {
  const { x, y, size, angle } = sheetOf(values);
  const corner = NAMES[Number(grip.slice(-1))];
  if (corner && values['pulling'] === 1) {
    const moved = minus(to, from);
    const pulled = { [`${corner}x`]: (values[`${corner}x`] ?? 0) + moved.x, [`${corner}y`]: (values[`${corner}y`] ?? 0) + moved.y };
    return isConvex(cornersOf(sheetOf({ ...values, ...pulled }))) ? pulled : {};
  }
  const [a, b] = [minus(from, { x, y }), minus(to, { x, y })];
  const turn = (Math.atan2(b.y, b.x) - Math.atan2(a.y, a.x)) * (180 / Math.PI);
  if (grip === 'turn') return { angle: upright(angle + turn) };
  const by = Math.hypot(b.x, b.y) / Math.max(1e-6, Math.hypot(a.x, a.y));
  return { size: hold(size * by, 0.01, 4), angle: upright(angle + turn) };
}

function drawnClearing(oval: Clearing): Drawn {
  return {
    outline: [],
    grips: [
      { id: 'move', label: say.onPhoto.centre, at: oval },
      ovalGrip(oval, 'width', say.onPhoto.width, Math.PI),
      ovalGrip(oval, 'height', say.onPhoto.height, -Math.PI / 2),
      ...SIDES.filter(({ id }) => oval.apart || id === 'right' || id === 'below').map(({ id, label, way }) =>
        ovalGrip(oval, id, label, way, endOf(oval, way)),
      ),
    ],
    within: (at) => outness(oval, at) <= 1,
  };
}

/** What is to be drawn of a handle. */
export function drawn(handle: Handle, values: Numbers): Drawn {
  if (handle.shape === 'oval') {
    const oval = ovalOf(handle, values);
    return {
      outline: [],
      grips: [
        { id: 'move', label: say.onPhoto.centre, at: oval },
        ovalGrip(oval, 'width', say.onPhoto.width, 0),
        ovalGrip(oval, 'height', say.onPhoto.height, Math.PI / 2),
        ovalGrip(oval, 'inner', say.onPhoto.innerBorder, -Math.PI * 0.75, Math.max(0.02, oval.inner)),
      ],
      within: (at) => outness(oval, at) <= 1,
    };
  }
  if (handle.shape === 'sheet') return drawnSheet(values);
  if (handle.shape === 'clearing') return drawnClearing(clearingOf(handle, values));
  const strip = stripOf(handle, values);
  if (handle.shape === 'point') return { outline: [], grips: [{ id: 'move', label: say.onPhoto.centre, at: strip }], within: () => true };
  if (handle.shape === 'band') {
    const { half, before, after } = strip;
    return {
      outline: [],
      grips: [
        { id: 'move', label: say.onPhoto.middle, at: strip },
        stripGrip(strip, 'half', say.onPhoto.width, half),
        stripGrip(strip, 'before', say.onPhoto.fadeBefore, -half - before),
        stripGrip(strip, 'after', say.onPhoto.fadeAfter, half + after),
      ],
      within: (at) => along(strip, at) >= -half - before && along(strip, at) <= half + after,
    };
  }
  if (handle.shape === 'ramp')
    return {
      outline: [],
      grips: [{ id: 'move', label: say.onPhoto.begin, at: strip }, stripGrip(strip, 'end', 'End', strip.length)],
      within: (at) => along(strip, at) >= 0 && along(strip, at) <= strip.length,
    };
  return { outline: [], grips: [], within: () => false };
}

/** What a drag of a grip from one place to another makes of the values it began with: `turn` turns the whole about its middle. */
export function dragged(handle: Handle, grip: string, values: Numbers, from: Point, to: Point): Numbers {
  const shape = named(handle, values) as unknown as Strip & Oval;
  const { x, y, angle } = shape;
  const moved = minus(to, from);
  if (handle.shape === 'sheet' && grip === 'move') return { x: (values['x'] ?? 0) + moved.x, y: (values['y'] ?? 0) + moved.y };
  if (handle.shape === 'sheet') return draggedSheet(grip, values, from, to);
  if (grip === 'move') return back(handle, { x: x + moved.x, y: y + moved.y });
  if (grip === 'turn') {
    const [a, b] = [minus(from, { x, y }), minus(to, { x, y })];
    const by = (Math.atan2(b.y, b.x) - Math.atan2(a.y, a.x)) * (180 / Math.PI);
    return back(handle, { angle: upright(angle + by) });
  }
  if (handle.shape === 'oval') {
    const oval = ovalOf(handle, values);
    const own = turned(minus(to, { x, y }), -angle);
    if (grip === 'width') return back(handle, { width: Math.max(0.005, Math.abs(own.x)) });
    if (grip === 'height') return back(handle, { height: Math.max(0.005, Math.abs(own.y)) });
    if (grip === 'inner') return back(handle, { inner: hold(outness(oval, to), 0, 0.99) });
    const by = outness(oval, to) / Math.max(1e-6, outness(oval, from));
    return back(handle, { width: oval.width * by, height: oval.height * by });
  }
  if (handle.shape === 'clearing') {
    const oval = clearingOf(handle, values);
    const own = turned(minus(to, { x, y }), -angle);
    if (grip === 'width') return back(handle, { width: Math.max(0.005, Math.abs(own.x)) });
    if (grip === 'height') return back(handle, { height: Math.max(0.005, Math.abs(own.y)) });
    if (grip === 'both') {
      const by = outness(oval, to) / Math.max(1e-6, outness(oval, from));
      return back(handle, { width: oval.width * by, height: oval.height * by });
    }
    const far = grip === 'right' || grip === 'left' ? Math.abs(own.x) / oval.width : Math.abs(own.y) / oval.height;
    return back(handle, { [oval.apart ? grip : 'right']: hold(far - 1, LEAST_END, MOST_END) });
  }
  const way = along(shape, to);
  if (grip === 'half') return back(handle, { half: Math.abs(way) });
  if (grip === 'before') return back(handle, { before: Math.max(0, -shape.half - way) });
  if (grip === 'after') return back(handle, { after: Math.max(0, way - shape.half) });
  const arm = minus(to, { x, y });
  const length = Math.max(0.002, Math.hypot(arm.x, arm.y));
  return back(handle, { length, angle: upright(Math.atan2(-arm.x, arm.y) * (180 / Math.PI)) });
}

/** What a press takes, and how far from a grip's own place it was; a drag goes on from the grip's place. */
export interface Taken {
  readonly grip: string;
  readonly off: Point;
}

/** The grip or border that a press at a place takes: a grip within reach, a border, what is within, or what turns. A pixel of the screen is so long there. */
export function taken(handle: Handle, values: Numbers, at: Point, pixel: number): Taken {
  const { grips, within } = drawn(handle, values);
  const reach = REACH_PX * pixel;
  const near = apart(grips, pixel)
    .map((grip) => ({ grip, far: Math.hypot(grip.shown.x - at.x, grip.shown.y - at.y) }))
    .filter(({ far }) => far <= reach)
    .sort((a, b) => a.far - b.far)[0];
  if (near) return { grip: near.grip.id, off: minus(at, near.grip.at) };
  const whole = (grip: string): Taken => ({ grip, off: { x: 0, y: 0 } });
  if (handle.shape === 'oval') {
    const oval = ovalOf(handle, values);
    const out = outness(oval, at);
    const perUnit = Math.min(oval.width, oval.height);
    if (Math.abs(out - 1) * perUnit < reach * 0.6) return whole('both');
    if (oval.inner > 0.05 && Math.abs(out - oval.inner) * perUnit < reach * 0.5) return whole('inner');
  }
  if (handle.shape === 'clearing') {
    const oval = clearingOf(handle, values);
    if (Math.abs(outness(oval, at) - 1) * Math.min(oval.width, oval.height) < reach * 0.5) return whole('both');
  }
  return whole(within(at) ? 'move' : 'turn');
}

/** One step of a key at a grip. */
export const nudged = (handle: Handle, grip: Grip, values: Numbers, dx: number, dy: number): Numbers =>
  dragged(handle, grip.id, values, grip.at, plus(grip.at, times({ x: dx, y: dy }, 1)));
