import type { Size } from '../pixels/picture';
import { LEAST_CROP, MOST_ANGLE, turned, type Crop, type Geometry } from './geometry';

/** Ratios of width to height that a crop can be held to; the picture's own, any, or a number. */
export const ratios = [
  { id: 'free', label: 'Free' },
  { id: 'own', label: 'As taken' },
  { id: '1', label: '1 : 1' },
  { id: '1.25', label: '5 : 4' },
  { id: '1.5', label: '3 : 2' },
  { id: '1.7777777777777777', label: '16 : 9' },
] as const;
export type RatioId = (typeof ratios)[number]['id'];

/** Which edges of a crop are moved: none of both axes moves it whole. */
export interface Grip {
  readonly x: -1 | 0 | 1;
  readonly y: -1 | 0 | 1;
}

/** The ratio as width over height in shares of a photo of a size; undefined for a free one. `upright` stands it on its short side. */
export function shareRatio(id: RatioId, size: Size, upright: boolean): number | undefined {
  if (id === 'free') return undefined;
  if (id === 'own') return 1;
  const ratio = upright ? 1 / Number(id) : Number(id);
  return (ratio * size.height) / size.width;
}

const hold = (v: number, least: number, most: number): number => Math.min(most, Math.max(least, v));

/** A crop after a drag of (dx, dy) shares at a grip. It stays inside the photo, above its least size, and at the ratio, where there is one. */
export function dragged(crop: Crop, grip: Grip, dx: number, dy: number, ratio: number | undefined): Crop {
  if (grip.x === 0 && grip.y === 0) return { ...crop, x: hold(crop.x + dx, 0, 1 - crop.width), y: hold(crop.y + dy, 0, 1 - crop.height) };
  // The edge or corner across from the grip stays where it is.
  const roomX = grip.x < 0 ? crop.x + crop.width : 1 - crop.x;
  const roomY = grip.y < 0 ? crop.y + crop.height : 1 - crop.y;
  let width = hold(crop.width + grip.x * dx, LEAST_CROP, grip.x === 0 ? 1 : roomX);
  let height = hold(crop.height + grip.y * dy, LEAST_CROP, grip.y === 0 ? 1 : roomY);
  if (ratio !== undefined) {
    const byWidth = grip.y === 0 || (grip.x !== 0 && Math.abs(dx) >= Math.abs(dy));
    if (byWidth) height = width / ratio;
    else width = height * ratio;
    const most = { width: grip.x === 0 ? 1 : roomX, height: grip.y === 0 ? 1 : roomY };
    const shrink = Math.min(1, most.width / width, most.height / height);
    [width, height] = [width * shrink, height * shrink];
  }
  const x = grip.x < 0 ? crop.x + crop.width - width : grip.x > 0 ? crop.x : hold(crop.x + (crop.width - width) / 2, 0, 1 - width);
  const y = grip.y < 0 ? crop.y + crop.height - height : grip.y > 0 ? crop.y : hold(crop.y + (crop.height - height) / 2, 0, 1 - height);
  return { x, y, width, height };
}

/** The largest crop of a ratio inside another, about the same middle. */
export function atRatio(crop: Crop, ratio: number | undefined): Crop {
  if (ratio === undefined) return crop;
  const width = Math.min(crop.width, crop.height * ratio);
  const height = width / ratio;
  return { x: crop.x + (crop.width - width) / 2, y: crop.y + (crop.height - height) / 2, width, height };
}

/** A quarter turn clockwise (1) or back (-1) of the whole geometry: the crop stays on the same part of the photo. */
export function quarterTurn(geometry: Geometry, way: 1 | -1): Geometry {
  const { x, y, width, height } = geometry.crop;
  const crop = way === 1 ? { x: 1 - y - height, y: x, width: height, height: width } : { x: y, y: 1 - x - width, width: height, height: width };
  // What is turned after it was mirrored is the same as mirrored after it was turned back.
  const turn = (geometry.turn + (geometry.mirrored ? 360 - way * 90 : 360 + way * 90)) % 360;
  const [upDown, leftRight] = way === 1 ? [geometry.leftRight, -geometry.upDown] : [-geometry.leftRight, geometry.upDown];
  return { ...geometry, turn: turn as Geometry['turn'], upDown: upDown + 0, leftRight: leftRight + 0, crop };
}

/** Left and right swapped: the crop and the straightening go along. */
export const mirrored = (geometry: Geometry): Geometry => ({
  ...geometry,
  mirrored: !geometry.mirrored,
  angleDeg: -geometry.angleDeg + 0,
  leftRight: -geometry.leftRight + 0,
  crop: { ...geometry.crop, x: 1 - geometry.crop.x - geometry.crop.width },
});

/** The straightening that lays a line level or plumb, whichever is nearer; the line is given in pixels of the picture as it is seen. */
export function levelled({ angleDeg }: Geometry, dx: number, dy: number): number {
  const tilt = (Math.atan2(dy, dx) * 180) / Math.PI;
  const off = tilt - Math.round(tilt / 90) * 90;
  return hold(Math.round((angleDeg - off) * 10) / 10, -MOST_ANGLE, MOST_ANGLE);
}

/** Whether the crop stands on its short side. */
export const isUpright = (geometry: Geometry, photo: Size): boolean => {
  const size = turned(geometry, photo);
  return geometry.crop.height * size.height > geometry.crop.width * size.width;
};
