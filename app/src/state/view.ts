import { create } from 'zustand';
import type { RatioId } from '@bexlen/core';
import { surrounds } from '../theme/tokens';
import { fit, type Look } from './look';

export interface DragLayer {
  readonly layerId: string;
  readonly section: string | undefined;
}

interface ViewState {
  readonly look: Look;
  readonly surround: number;
  readonly comparing: boolean;
  /** Whether the original is shown left of a dividing line. */
  readonly split: boolean;
  /** Whether the loupe is on: the place under the finger at full size, before and after. */
  readonly loupe: boolean;
  readonly histogram: boolean;
  /** Whether clipped shadows and highlights are marked. */
  readonly marks: boolean;
  /** Whether the picture is shown as eleven tonal zones. */
  readonly zones: boolean;
  /** The place that is held, as shares of width and height of the photo. */
  readonly probe: { readonly u: number; readonly v: number } | undefined;
  /** Whether the next tap on the photo says what is grey in the light that it was taken in. */
  readonly greyPick: boolean;
  /** The layer that is adjusted by dragging on the photo, and the leaf of its controls that is open. */
  readonly toneDrag: DragLayer | undefined;
  /** The open layer, where it can be adjusted so: a finger on the photo that fits does it at once. */
  readonly dragReady: DragLayer | undefined;
}

/** How the photo is looked at. Not part of a version. */
export const useView = create<ViewState>(() => ({
  look: fit,
  surround: 1,
  comparing: false,
  split: false,
  loupe: false,
  histogram: false,
  marks: false,
  zones: false,
  probe: undefined,
  greyPick: false,
  toneDrag: undefined,
  dragReady: undefined,
}));
/** Ways to look that are switched on and off. */
export type Way = 'split' | 'loupe' | 'histogram' | 'marks' | 'zones';
/** Both take the finger on the photo: one puts the other away. */
const OTHER: Partial<Record<Way, Way>> = { split: 'loupe', loupe: 'split' };
export const flip = (way: Way): void => useView.setState((now) => ({ [way]: !now[way], ...(OTHER[way] && !now[way] && { [OTHER[way]]: false }) }));
/** How the crop is being chosen: the ratio it is held to, and whether a level line is being drawn instead. */
export const useFrame = create<{ readonly ratio: RatioId; readonly drawing: boolean }>(() => ({ ratio: 'free', drawing: false }));

export const compare = (comparing: boolean): void => useView.setState({ comparing });
export const nextSurround = (): void => useView.setState(({ surround }) => ({ surround: (surround + 1) % surrounds.length }));
