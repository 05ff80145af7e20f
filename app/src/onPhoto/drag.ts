import type { Point } from './places';

/** What a finger that is drawn over the photo does. */
export interface PhotoDrag {
  /** It begins with the press, wherever the photo is looked at, instead of a hold or a pan. */
  readonly atOnce?: boolean;
  /** Begins at a place of the area; false where nothing is to be dragged. */
  readonly down: (at: Point, event: PointerEvent) => boolean;
  /** At a place of the area now, so many pixels from where it began. */
  readonly move: (now: Point & { readonly dx: number; readonly dy: number }, event: PointerEvent) => void;
  /** A tap at a place, or a second one at once, which zooms and takes the first one back. */
  readonly tap?: (at: Point | undefined) => void;
  readonly up: (moved: boolean, event: PointerEvent) => void;
  readonly cancel: () => void;
  /** A mouse or a pen above the photo; nothing, when it leaves. */
  readonly hover?: (at: Point | undefined) => void;
}
