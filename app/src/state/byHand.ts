import { create } from 'zustand';
import type { Part, Stroke } from '@bexlen/core';

/** How a mask is seen on the photo: not at all, hatched where it leaves out, as greys, or only what it lets through. */
export type MaskView = 'photo' | 'hatched' | 'greys' | 'cut';

/** A painting that strokes go to: that of a part of a layer's mask, or of the layer itself. */
export interface Canvas {
  readonly layerId: string;
  readonly partId: string | undefined;
  /** The param that names it. */
  readonly param: string;
  /** Strokes add up in stops. */
  readonly light: boolean;
}

export type Brush = Pick<Stroke, 'size' | 'softness' | 'flow' | 'erase' | 'pressure'>;

interface Point {
  readonly x: number;
  readonly y: number;
}
/** Where the next layer is to land. */
export interface Ahead {
  /** Its mask; a kind that has a middle of its own is put there instead. */
  readonly part: Part;
  /** What was drawn, in places. */
  readonly line: readonly Point[];
  /** Where it began, as masks know places, and in halves of the finished picture’s sides from its middle. */
  readonly at: Point;
  readonly inHalves: Point;
}

interface Where {
  /** The rack is open: a finger on the photo says where the next layer is to land. */
  readonly choosing: boolean;
  readonly ahead: Ahead | undefined;
  /** Corners of a picture are pulled apart, not moved together. */
  readonly pulling: boolean;
  /** The band, oval or pin of the open channel that is worked on. */
  readonly focus: string | undefined;
  /** It is being moved: where it leaves sharp is hatched. */
  readonly focusing: boolean;
  /** The part of the open channel's mask whose controls are open. */
  readonly part: string | undefined;
  readonly view: MaskView;
  /** What no mask of the whole stack touches is hatched. */
  readonly every: boolean;
  /** The map of light is seen in the place of the photo. */
  readonly map: boolean;
  /** The mask that is seen, and how much of the picture it lets through, 0..1. */
  readonly image: ImageData | undefined;
  readonly share: number | undefined;
  /** What strokes on the photo paint; nothing, while none are. */
  readonly canvas: Canvas | undefined;
  readonly brush: Brush;
  /** A drag on the photo sets size and softness instead of painting. */
  readonly sizing: boolean;
  /** Where the brush is seen, in pixels of the photo's area. */
  readonly at: Point | undefined;
}

/** How masks are looked at and worked on. Not part of a version. */
export const useWhere = create<Where>(() => ({
  choosing: false,
  ahead: undefined,
  focus: undefined,
  focusing: false,
  pulling: false,
  part: undefined,
  view: 'photo',
  every: false,
  map: false,
  image: undefined,
  share: undefined,
  canvas: undefined,
  brush: { size: 0.04, softness: 0.6, flow: 0.6, erase: false, pressure: 'flow' },
  sizing: false,
  at: undefined,
}));

export const setBrush = (brush: Partial<Brush>): void => useWhere.setState((state) => ({ brush: { ...state.brush, ...brush } }));
