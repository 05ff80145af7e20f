import { create } from 'zustand';
import type { Stack } from '@bexlen/core';

/** A picture that stands beside others, or over one of them. */
export interface Pane {
  readonly name: string;
  readonly stack: Stack;
}

/** What is laid side by side, until it is closed. */
export const useBeside = create<{ readonly panes: readonly Pane[] }>(() => ({ panes: [] }));
export const besides = (panes: readonly Pane[]): void => useBeside.setState({ panes });
