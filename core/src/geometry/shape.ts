import type { Layout, Rect } from '../pixels/picture';
import { isAsItCame, pictureSize, toPhoto, type Geometry } from './geometry';
import { inTurn, moveBy, scaleBy, type Matrix } from './matrix';

interface Size {
  readonly width: number;
  readonly height: number;
}

/** Pixels of a photo that are at hand: a rectangle of the photo at its full size, reduced or not. */
export interface Patch {
  readonly photo: Size;
  readonly rect: Rect;
  readonly layout: Layout;
}

/** A picture, or a part of it, that is to be made of a patch before the first layer. */
export interface Shape {
  /** How the result lies in memory. Deeper than the patch where pixels are made anew. */
  readonly layout: Layout;
  /** From pixels of the result to pixels of the patch; the middle of the first pixel is at (0.5, 0.5). */
  readonly map: Matrix;
  /** Where the result belongs. */
  readonly place: FilmPlace;
}

/** Where pixels in memory belong. */
export interface FilmPlace {
  /** Long edge of the whole photo, uncropped, in pixels of this scale: what lengths are shares of. */
  readonly edge: number;
  /** Where the first pixel lies on the film, in pixels of this scale. */
  readonly x: number;
  readonly y: number;
}

export const filmPlaceOf = ({ width, height }: Size): FilmPlace => ({ edge: Math.max(width, height), x: 0, y: 0 });

/** The shape of a part of the picture (in pixels of the picture at a scale) out of a patch. */
export function shapeOf(geometry: Geometry, patch: Patch, picture: Size, part: Rect): Shape {
  const { photo, rect, layout } = patch;
  const map = inTurn(
    moveBy(part.x, part.y),
    scaleBy(1 / picture.width, 1 / picture.height),
    toPhoto(geometry, photo),
    moveBy(-rect.x, -rect.y),
    scaleBy(layout.width / rect.w, layout.height / rect.h),
  );
  const full = pictureSize(geometry, photo);
  const scale = picture.width / full.width;
  const { crop, turn } = geometry;
  const [across, down] = turn % 180 === 0 ? [photo.width, photo.height] : [photo.height, photo.width];
  const place = {
    edge: Math.max(photo.width, photo.height) * scale,
    x: Math.round(crop.x * across * scale) + part.x,
    y: Math.round(crop.y * down * scale) + part.y,
  };
  const result = { ...layout, width: part.w, height: part.h };
  return { layout: copies(map) ? result : { ...result, depth: 16 }, map, place };
}

/** Whether a patch of a whole photo is the picture already. */
export const isPicture = (geometry: Geometry, { photo, rect }: Patch): boolean =>
  isAsItCame(geometry) && rect.w === photo.width && rect.h === photo.height;

const NEAR = 1e-3;
const whole = (v: number): boolean => Math.abs(v - Math.round(v)) < NEAR;

/** Whether a map takes pixels onto pixels, so that they can be copied as they are. */
export function copies([a, b, c, d, e, f, g, h, i]: Matrix): boolean {
  const [p, q, r, s, t, u] = [a, b, c, d, e, f].map((v) => v / i) as [number, number, number, number, number, number];
  const upright = Math.abs(Math.abs(p) - 1) < NEAR / 1e4 && Math.abs(q) < 1e-9 && Math.abs(s) < 1e-9 && Math.abs(Math.abs(t) - 1) < NEAR / 1e4;
  const lying = Math.abs(p) < 1e-9 && Math.abs(Math.abs(q) - 1) < NEAR / 1e4 && Math.abs(Math.abs(s) - 1) < NEAR / 1e4 && Math.abs(t) < 1e-9;
  return Math.abs(g) < 1e-12 && Math.abs(h) < 1e-12 && (upright || lying) && whole(r) && whole(u);
}
