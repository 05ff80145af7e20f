import { inverse, mapped, placesOf, type Geometry, type Matrix, type Size } from '@bexlen/core';
import { useBench } from '../state/bench';
import { useFraming } from '../engine/shown';
import { shareOf, type Look } from '../state/look';
import type { Numbers } from './shapes';

export interface Point {
  readonly x: number;
  readonly y: number;
}
/** How the photo lies on the screen: its area, its size where it fits, and how it is looked at. */
export interface Seen {
  readonly area: Size;
  readonly picture: Size;
  readonly look: Look;
}

/** From places as masks know them to pixels of the photo's area, and back. */
export interface Ways {
  readonly toScreen: (place: Point) => Point;
  readonly toPlace: (at: Point) => Point;
  /** From places to shares 0..1 of the picture. */
  readonly toShare: (place: Point) => Point;
  /** Pixels of the area to one unit of a place, about the middle of what is seen. */
  readonly scale: number;
  /** The middle of what is seen, and how far it reaches, in places. */
  readonly middle: Point;
  readonly reach: number;
}

/** @param onPicture places are from the middle of the finished picture, in shares of its long edge. */
export function waysOf(geometry: Geometry, photo: Size, { area, picture, look }: Seen, onPicture = false): Ways {
  const [w, h] = [picture.width, picture.height].map((side) => side / Math.max(picture.width, picture.height)) as [number, number];
  const there: Matrix = onPicture ? [w, 0, -w / 2, 0, h, -h / 2, 0, 0, 1] : placesOf(geometry, photo);
  const back = inverse(there);
  const toShare = ({ x, y }: Point): Point => {
    const [u, v] = mapped(back, x, y);
    return { x: u, y: v };
  };
  const toScreen = (place: Point): Point => {
    const { x: u, y: v } = toShare(place);
    return {
      x: area.width / 2 + look.x + (u - 0.5) * picture.width * look.scale,
      y: area.height / 2 + look.y + (v - 0.5) * picture.height * look.scale,
    };
  };
  const toPlace = (at: Point): Point => {
    const { u, v } = shareOf(at, look, area, picture);
    const [x, y] = mapped(there, u, v);
    return { x, y };
  };
  const middle = toPlace({ x: area.width / 2, y: area.height / 2 });
  const beside = toPlace({ x: area.width / 2 + 100, y: area.height / 2 });
  const scale = 100 / Math.max(1e-9, Math.hypot(beside.x - middle.x, beside.y - middle.y));
  return { toScreen, toPlace, toShare, scale, middle, reach: Math.hypot(area.width, area.height) / 2 / scale };
}

/** The ways of what is on the bench now; nothing while the crop is being chosen. */
export function waysNow(seen: Seen, onPicture = false): Ways | undefined {
  const { photo, stack } = useBench.getState();
  if (!photo || useFraming.getState().framing || seen.picture.width <= 0) return undefined;
  return waysOf(stack().geometry, photo, seen, onPicture);
}

/** Half sides of the picture in shares of its long edge: kinds that belong to it are told by them. */
export function halvesOf({ picture: { width, height } }: Seen): readonly [number, number] {
  const edge = 2 * Math.max(width, height);
  return [width / edge, height / edge];
}
export function byHalves(values: Numbers, [w, h]: readonly [number, number]): Numbers {
  const scale: Record<string, number> = { x: w, width: w, y: h, height: h };
  return Object.fromEntries(Object.entries(values).map(([name, value]) => [name, value * (scale[name] ?? 1)]));
}
