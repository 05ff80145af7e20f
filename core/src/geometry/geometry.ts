import { z } from 'zod';
import { number, paramsShape, percent, type Params } from '../params';
import type { Rect, Size } from '../pixels/picture';
import { inTurn, lean, mapped, moveBy, scaleBy, turnBy, type Matrix } from './matrix';

/** What is done to the photo before the first layer. Nothing of it leaves an empty corner: what would is enlarged until it is covered. */
export interface Geometry {
  /** Clockwise quarter turns, in degrees. */
  readonly turn: 0 | 90 | 180 | 270;
  /** Left and right swapped, after the turn. */
  readonly mirrored: boolean;
  /** Straightening, clockwise, -45..45 degrees. */
  readonly angleDeg: number;
  /** Perspective: how far the top (or the left) is brought nearer, -1..1. */
  readonly upDown: number;
  readonly leftRight: number;
  /** The part that is kept, as shares of the turned and straightened photo. */
  readonly crop: Crop;
}

export interface Crop {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export const LEAST_CROP = 0.02;
export const MOST_ANGLE = 45;
/** How strongly the far side shrinks at full perspective. */
const LEAN = 0.45;

const crop = z
  .strictObject({
    x: z.number().min(0).max(1),
    y: z.number().min(0).max(1),
    width: z.number().min(LEAST_CROP).max(1),
    height: z.number().min(LEAST_CROP).max(1),
  })
  .refine(({ x, y, width, height }) => x + width <= 1 + 1e-9 && y + height <= 1 + 1e-9, 'A crop lies inside the photo.');

/** What of it is moved by faders. */
export const geometryParams = {
  angleDeg: number({ label: 'Straighten', unit: 'degrees', min: -MOST_ANGLE, max: MOST_ANGLE, step: 0.1 }),
  upDown: percent({ label: 'Up, down', min: -1 }),
  leftRight: percent({ label: 'Left, right', min: -1 }),
} satisfies Params;

const { angleDeg, upDown, leftRight } = paramsShape(geometryParams);
export const geometrySchema = z.strictObject({
  turn: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]),
  mirrored: z.boolean(),
  angleDeg: angleDeg.unwrap(),
  upDown: upDown.unwrap(),
  leftRight: leftRight.unwrap(),
  crop,
});

export const wholeCrop: Crop = { x: 0, y: 0, width: 1, height: 1 };
export const asItCame: Geometry = { turn: 0, mirrored: false, angleDeg: 0, upDown: 0, leftRight: 0, crop: wholeCrop };

export const isAsItCame = ({ turn, mirrored, angleDeg, upDown, leftRight, crop: { width, height } }: Geometry): boolean =>
  turn === 0 && !mirrored && angleDeg === 0 && upDown === 0 && leftRight === 0 && width === 1 && height === 1;

/** The photo after its quarter turns: what crops are shares of. */
export const turned = ({ turn }: Pick<Geometry, 'turn'>, { width, height }: Size): Size =>
  turn % 180 === 0 ? { width, height } : { width: height, height: width };

/** Straightening and perspective about the middle of the turned photo, in pixels from it. */
const bent = ({ angleDeg, upDown, leftRight }: Geometry, { width, height }: Size): Matrix => {
  const half = Math.max(width, height) / 2;
  return inTurn(turnBy(-angleDeg), lean((-LEAN * leftRight) / half, (-LEAN * upDown) / half));
};

/** How much the turned photo must be enlarged about its middle so that straightening and perspective leave no empty corner; 1 or more. */
export function enlargement(geometry: Geometry, photo: Size): number {
  const size = turned(geometry, photo);
  const [w, h] = [size.width / 2, size.height / 2];
  const map = bent(geometry, size);
  const corners = [
    [-w, -h],
    [w, -h],
    [w, h],
    [-w, h],
  ] as const;
  const inside = (by: number): boolean =>
    corners.every(([x, y]) => {
      const [u, v] = mapped(map, x / by, y / by);
      return Math.abs(u) <= w * (1 + 1e-9) && Math.abs(v) <= h * (1 + 1e-9);
    });
  if (inside(1)) return 1;
  let [low, high] = [1, 256];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (inside(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/** Whole pixels of the turned photo that a crop keeps. */
function cropPx({ x, y, width, height }: Crop, size: Size): Rect {
  const [left, top] = [Math.round(x * size.width), Math.round(y * size.height)];
  return {
    x: Math.min(left, size.width - 1),
    y: Math.min(top, size.height - 1),
    w: Math.max(1, Math.round((x + width) * size.width) - left),
    h: Math.max(1, Math.round((y + height) * size.height) - top),
  };
}

/** Pixels of the picture at full size: one for each of the photo's own, about its middle. */
export function pictureSize(geometry: Geometry, photo: Size): Size {
  const { w, h } = cropPx(geometry.crop, turned(geometry, photo));
  const by = enlargement(geometry, photo);
  return { width: Math.max(1, Math.round(w / by)), height: Math.max(1, Math.round(h / by)) };
}

/** From a place in the picture, as shares 0..1 of it, to the place of the photo that is seen there, in pixels from its upper left corner. */
export function toPhoto(geometry: Geometry, photo: Size): Matrix {
  const size = turned(geometry, photo);
  const part = cropPx(geometry.crop, size);
  const by = enlargement(geometry, photo);
  return inTurn(
    scaleBy(part.w, part.h),
    moveBy(part.x - size.width / 2, part.y - size.height / 2),
    scaleBy(1 / by, 1 / by),
    bent(geometry, size),
    scaleBy(geometry.mirrored ? -1 : 1, 1),
    turnBy(-geometry.turn),
    moveBy(photo.width / 2, photo.height / 2),
  );
}

/** The part of the photo that a part of the picture (shares 0..1) is made from, in whole pixels, with a rim for resampling. */
export function neededOf(geometry: Geometry, photo: Size, part: Crop = wholeCrop): Rect {
  const RIM = 4;
  const map = toPhoto(geometry, photo);
  const places = [0, 1].flatMap((i) => [0, 1].map((j) => mapped(map, part.x + i * part.width, part.y + j * part.height)));
  const hold = (v: number, most: number): number => Math.min(most, Math.max(0, v));
  const rim = isPlain(map) ? 0 : RIM;
  const [xs, ys] = [places.map(([x]) => x), places.map(([, y]) => y)];
  const x = hold(Math.floor(Math.min(...xs) + 1e-6) - rim, photo.width - 1);
  const y = hold(Math.floor(Math.min(...ys) + 1e-6) - rim, photo.height - 1);
  return {
    x,
    y,
    w: hold(Math.ceil(Math.max(...xs) - 1e-6) + rim, photo.width) - x,
    h: hold(Math.ceil(Math.max(...ys) - 1e-6) + rim, photo.height) - y,
  };
}

/** Whether a map only turns by quarters, mirrors and moves along the axes. */
const isPlain = ([a, b, , d, e, , g, h]: Matrix): boolean =>
  Math.abs(g) < 1e-12 && Math.abs(h) < 1e-12 && ((Math.abs(b) < 1e-9 && Math.abs(d) < 1e-9) || (Math.abs(a) < 1e-9 && Math.abs(e) < 1e-9));
