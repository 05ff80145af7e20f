import type { Handle, ParamValue } from '@bexlen/core';
import type { Point } from './places';

/** Params of a thing that has a handle, as numbers. Lengths and places in shares of the long edge, angles in degrees. */
export type Numbers = Readonly<Record<string, number>>;

/** What of the params of a thing is numbers. */
export const numbersOf = (params: Readonly<Record<string, ParamValue>>): Numbers =>
  Object.fromEntries(Object.entries(params).flatMap(([name, value]) => (typeof value === 'number' ? [[name, value]] : [])));

const rad = (degrees: number): number => (degrees * Math.PI) / 180;
/** Turned about the origin, in degrees. */
export const turned = ({ x, y }: Point, degrees: number): Point => ({
  x: x * Math.cos(rad(degrees)) - y * Math.sin(rad(degrees)),
  y: x * Math.sin(rad(degrees)) + y * Math.cos(rad(degrees)),
});
export const plus = (a: Point, b: Point): Point => ({ x: a.x + b.x, y: a.y + b.y });
export const minus = (a: Point, b: Point): Point => ({ x: a.x - b.x, y: a.y - b.y });
export const times = ({ x, y }: Point, k: number): Point => ({ x: x * k, y: y * k });

export interface Oval {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly angle: number;
  readonly inner: number;
  readonly box: number;
}

/** A place on the border of an oval in a direction of its own, 1 for the outer one. */
export function onBorder({ x, y, width, height, angle, box }: Oval, way: number, share: number): Point {
  const [c, s] = [Math.cos(way), Math.sin(way)];
  const off = 1 + ((c ** 8 + s ** 8) ** (1 / 8) - 1) * box;
  return plus({ x, y }, turned({ x: (c * width * share) / off, y: (s * height * share) / off }, angle));
}

/** How far out a place lies: 1 on the outer border. */
export function outness({ x, y, width, height, angle, box }: Oval, at: Point): number {
  const own = turned(minus(at, { x, y }), -angle);
  const [a, b] = [Math.abs(own.x / width), Math.abs(own.y / height)];
  const round = Math.hypot(a, b);
  return round + ((a ** 8 + b ** 8) ** (1 / 8) - round) * box;
}

/** How far a place lies along the direction of a strip. */
export const along = ({ x, y, angle }: { x: number; y: number; angle: number }, at: Point): number => turned(minus(at, { x, y }), -angle).y;

/** A shape by the names that a handle gives its params, and what it has of its own. */
export const named = (handle: Handle, values: Numbers): Record<string, number> =>
  Object.fromEntries(
    Object.entries(handle).flatMap(([key, name]) => (typeof name === 'string' && name in values ? [[key, values[name] as number]] : [])),
  );

export const ovalOf = (handle: Handle, values: Numbers): Oval => ({
  box: values['box'] ?? 0,
  ...(named(handle, values) as unknown as Omit<Oval, 'box'>),
});
/** An oval that is whole within, and how far it goes on until its end on each side. */
export interface Clearing extends Oval {
  readonly right: number;
  readonly left: number;
  readonly below: number;
  readonly above: number;
  readonly apart: boolean;
}
export const clearingOf = (handle: Handle, values: Numbers): Clearing => {
  const own = ovalOf(handle, values) as Clearing;
  const apart = values['apart'] === 1;
  return apart ? { ...own, apart } : { ...own, apart, left: own.right, below: own.right, above: own.right };
};
/** Where it ends in a direction of its own, 1 for its border. */
export function endOf({ right, left, below, above }: Clearing, way: number): number {
  const [c, s] = [Math.cos(way), Math.sin(way)];
  return 1 + (c > 0 ? right : left) * c * c + (s > 0 ? below : above) * s * s;
}
export interface Strip {
  readonly x: number;
  readonly y: number;
  readonly angle: number;
  readonly half: number;
  readonly before: number;
  readonly after: number;
  readonly length: number;
}
export const stripOf = (handle: Handle, values: Numbers): Strip => named(handle, values) as unknown as Strip;
