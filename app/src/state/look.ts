import { unit } from '@bexlen/core';
import type { Size } from '@bexlen/core';
/** How large the photo is shown against fitting the area, and how far its middle is moved, in pixels of the screen. */
export interface Look {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

export const fit: Look = { scale: 1, x: 0, y: 0 };
const MOST = 16;

/** The scale at which one pixel of the full-size photo is one of the screen; at least twice fitting, so that it is seen to zoom. */
export const fullScale = (fullWidth: number, shownWidth: number): number =>
  Math.min(MOST, Math.max(2, fullWidth / Math.max(1, shownWidth * (globalThis.devicePixelRatio || 1))));

/** Limits a look so that the photo does not leave its area. */
export function zoomed({ scale, x, y }: Look, area: Size, picture: Size): Look {
  const to = Math.min(MOST, Math.max(1, scale));
  const reach = (length: number, room: number): number => Math.max(0, (length * to - room) / 2);
  const held = (v: number, most: number): number => Math.min(most, Math.max(-most, v));
  return { scale: to, x: held(x, reach(picture.width, area.width)), y: held(y, reach(picture.height, area.height)) };
}

/** Scales a look by a factor about a point, which is given from the middle of the area. */
export function about({ scale, x, y }: Look, factor: number, px: number, py: number): Look {
  const to = Math.min(MOST, Math.max(1, scale * factor));
  const k = to / scale;
  return { scale: to, x: px - (px - x) * k, y: py - (py - y) * k };
}

/** Converts a place of the area to shares of the photo's width and height. */
export const shareOf = ({ x, y }: { x: number; y: number }, look: Look, area: Size, picture: Size): { u: number; v: number } => ({
  u: (x - area.width / 2 - look.x) / (picture.width * look.scale) + 0.5,
  v: (y - area.height / 2 - look.y) / (picture.height * look.scale) + 0.5,
});

/** Returns the part of the photo that is in sight, as shares of its width and height. */
export function sightOf(look: Look, area: Size, picture: Size): { x: number; y: number; width: number; height: number } {
  const from = shareOf({ x: 0, y: 0 }, look, area, picture);
  const to = shareOf({ x: area.width, y: area.height }, look, area, picture);
  const [x, y] = [unit(from.u), unit(from.v)];
  return { x, y, width: unit(to.u) - x, height: unit(to.v) - y };
}
