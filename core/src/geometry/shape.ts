import type { Gamut } from '../pixels/gamut';
import type { Layout, Rect, Size } from '../pixels/picture';
import type { Resources } from '../resources';
import { isAsItCame, pictureSize, toPhoto, type Geometry } from './geometry';
import { inTurn, moveBy, scaleBy, type Matrix } from './matrix';

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
  /** From pixels to places of the uncropped photo: from its middle, in shares of its long edge; the middle of the first pixel is at (0.5, 0.5). */
  readonly map: Matrix;
  /** The finished picture: the same for it, and its sides in shares of its own long edge. */
  readonly picture: { readonly map: Matrix; readonly edge: number; readonly width: number; readonly height: number };
  /** The whole photo, small and always the same, for what must be known of all of it wherever a part is made. */
  readonly proxy?: PhotoProxy;
  /** The primaries of the picture, in which layers work; those of sRGB, unless said. */
  readonly gamut?: Gamut;
  /** As in `Layout`. */
  readonly headroom?: number;
  /** What layers name, for those who make pixels; without it nothing is at hand. */
  readonly resources?: Resources;
}

/** A photo in bytes of red, green and blue, upright, with a long edge of PROXY_EDGE; of a raw file as it is developed when nothing was chosen. */
export interface PhotoProxy {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8Array;
  /** What it was developed from, in 16 bits; 65535 stands for `headroom`. */
  readonly raw?: { readonly values: Uint16Array; readonly headroom: number };
  /** By what choices it was developed, where some were made. */
  readonly developed?: string;
}
export const PROXY_EDGE = 256;

/** From pixels of a whole of some size, of which the first one lies at (x, y), to its middle and shares of its long edge. */
function fromMiddle({ width, height }: Size, x = 0, y = 0): FilmPlace['picture'] {
  const edge = Math.max(width, height);
  return { map: inTurn(moveBy(x - width / 2, y - height / 2), scaleBy(1 / edge, 1 / edge)), edge, width: width / edge, height: height / edge };
}

export const filmPlaceOf = (photo: Size): FilmPlace => partPlaceOf(photo, 0, 0);

/** The place of a part of a photo that lies at (x, y) of it, in pixels of its scale. */
export function partPlaceOf(photo: Size, x: number, y: number): FilmPlace {
  const picture = fromMiddle(photo, x, y);
  return { edge: picture.edge, x, y, map: picture.map, picture };
}

/** The shape of a part of the picture (in pixels of the picture at a scale) out of a patch. */
export function shapeOf(geometry: Geometry, patch: Patch, picture: Size, part: Rect): Shape {
  const { photo, rect, layout } = patch;
  const ofPhoto = inTurn(moveBy(part.x, part.y), scaleBy(1 / picture.width, 1 / picture.height), toPhoto(geometry, photo));
  const map = inTurn(ofPhoto, moveBy(-rect.x, -rect.y), scaleBy(layout.width / rect.w, layout.height / rect.h));
  const full = pictureSize(geometry, photo);
  const scale = picture.width / full.width;
  const { crop, turn } = geometry;
  const [across, down] = turn % 180 === 0 ? [photo.width, photo.height] : [photo.height, photo.width];
  const place = {
    edge: Math.max(photo.width, photo.height) * scale,
    x: Math.round(crop.x * across * scale) + part.x,
    y: Math.round(crop.y * down * scale) + part.y,
    map: inTurn(ofPhoto, fromMiddle(photo).map),
    picture: fromMiddle(picture, part.x, part.y),
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

/** From places of the picture, as shares 0..1 of it, to places of the photo, from its middle in shares of its long edge: as masks and handles are told. */
export const placesOf = (geometry: Geometry, photo: Size): Matrix => inTurn(toPhoto(geometry, photo), fromMiddle(photo).map);
