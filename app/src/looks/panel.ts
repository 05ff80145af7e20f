import { create } from 'zustand';

export type LooksLeaf = 'put' | 'take' | 'lessons';

/** Whether looks are open on the bench, at which leaf, and the one layer that is to be taken, where it is one. */
export const useLooksPanel = create<{ readonly leaf: LooksLeaf | undefined; readonly only: string | undefined }>(() => ({
  leaf: undefined,
  only: undefined,
}));

export const openLooks = (): void => useLooksPanel.setState({ leaf: 'put', only: undefined });
export const openLessons = (): void => useLooksPanel.setState({ leaf: 'lessons', only: undefined });
export const takeOne = (layerId: string): void => useLooksPanel.setState({ leaf: 'take', only: layerId });
export const closeLooks = (): void => useLooksPanel.setState({ leaf: undefined, only: undefined });
