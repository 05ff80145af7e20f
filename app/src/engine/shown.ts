import { create } from 'zustand';
import { soloed, type Crop, type Stack } from '@bexlen/core';
import type { Tones } from '@bexlen/core/engine';
import { useBench } from '../state/bench';
import type { Frame } from './frame';

interface Preview {
  readonly state: 'idle' | 'opening' | 'ready' | 'failed';
  readonly message: string;
  readonly original: ImageData | undefined;
  readonly frame: Frame | undefined;
  readonly tones: Tones | undefined;
  /** A part of the frame that was made anew since. */
  readonly patch: { readonly image: ImageData; readonly x: number; readonly y: number } | undefined;
  /** The draft in which something is being painted: it is drawn only where it is new. */
  readonly painted: Stack | undefined;
  /** What is seen of the picture at full size, now and as it came, where the view is closer than the working size; shares of the picture. */
  readonly detail: { readonly image: ImageData; readonly original: ImageData; readonly part: Crop } | undefined;
}

export const nothing = {
  message: '',
  original: undefined,
  frame: undefined,
  tones: undefined,
  patch: undefined,
  painted: undefined,
  detail: undefined,
};

/** What the viewer shows. The engine writes it, components read it. */
export const usePreview = create<Preview>(() => ({ state: 'idle', ...nothing }));

/** While the crop is being chosen, the picture is shown without it. */
export const useFraming = create<{ readonly framing: boolean }>(() => ({ framing: false }));

/** The stack as it is to be seen. */
export const seenStack = (): Stack => {
  const { stack, solo } = useBench.getState();
  return soloed(stack(), solo);
};
