import { create } from 'zustand';

interface Held {
  readonly id: string | undefined;
  /** The figure of the held control, and where on the page it belongs; it is kept inside the page where it is drawn. */
  readonly figure: { readonly text: string; readonly x: number; readonly y: number } | undefined;
}

/** The control that a finger holds. While it does, all else steps back so that the photo can be judged. */
export const useHeld = create<Held>(() => ({ id: undefined, figure: undefined }));

export const hold = (id: string, figure?: Held['figure']): void => useHeld.setState({ id, figure });
export const letGo = (): void => useHeld.setState({ id: undefined, figure: undefined });
