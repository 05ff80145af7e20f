import { MAX_STEPS, type Step, type VersionChange } from '@bexlen/api';

/** The states a version has been in. States and steps are never changed, only replaced. */
export interface History {
  readonly steps: readonly Step[];
  /** The step in force. */
  readonly cursor: number;
}

/** Returns a history with a new step after the one in force. Undone steps are dropped, and so is the oldest of too many. */
export function recorded({ steps, cursor }: History, step: Step): History {
  const all = [...steps.slice(0, cursor + 1), step].slice(-MAX_STEPS);
  return { steps: all, cursor: all.length - 1 };
}

export const canUndo = ({ cursor }: History): boolean => cursor > 0;
export const canRedo = ({ steps, cursor }: History): boolean => cursor < steps.length - 1;

/** Returns the change that turns one history into another, by the steps that they share. */
export function difference(from: History, to: History, replaces: number): Omit<VersionChange, 'strokes'> {
  const first = to.steps[0];
  const found = first ? from.steps.indexOf(first) : -1;
  const forget = Math.max(0, found);
  const known = from.steps.slice(forget);
  const apart = to.steps.findIndex((step, i) => step !== known[i]);
  const shared = found < 0 ? 0 : apart < 0 ? to.steps.length : apart;
  return { replaces, forget: found < 0 ? 0 : forget, from: forget + shared, steps: to.steps.slice(shared), cursor: to.cursor };
}

/** Returns a history with a change applied. */
export function applied({ steps }: History, { forget, from, steps: more, cursor }: Omit<VersionChange, 'strokes'>): History {
  return { steps: [...steps.slice(0, from), ...more].slice(forget), cursor };
}
