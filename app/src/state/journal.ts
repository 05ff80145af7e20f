import { z } from 'zod';
import { nameOf, readStack, type Stack } from '@bexlen/core';
import { step, versionChange, type Step, type VersionChange } from '@bexlen/api';
import { resources } from './resources';
import type { History } from './history';

const entry = z.object({
  photoId: z.string(),
  name: z.string(),
  change: versionChange,
  /** The whole state, for when the change no longer fits what the server has. */
  steps: z.array(step).min(1),
  cursor: z.number(),
});
export type Unsent = z.infer<typeof entry>;

const key = (versionId: string): string => `bexlen.unsent.${versionId}`;

/** Reads a stack that an older page may have written. One that cannot be read is returned as it is, so that nothing is lost. */
function ofToday(stack: Stack): Stack {
  try {
    return readStack(stack);
  } catch {
    return stack;
  }
}

/** Changes that the server does not have yet, kept in this browser so that a reload or a crash loses nothing. */
export const journal = {
  write(versionId: string, photoId: string, name: string, change: VersionChange, history: History): void {
    const unsent: Unsent = { photoId, name, change, steps: [...history.steps], cursor: history.cursor };
    try {
      localStorage.setItem(key(versionId), JSON.stringify(unsent));
    } catch {
      const now = history.steps[history.cursor];
      if (now)
        localStorage.setItem(key(versionId), JSON.stringify({ ...unsent, change: { ...change, steps: [], from: 0 }, steps: [now], cursor: 0 }));
    }
  },

  read(versionId: string): Unsent | undefined {
    const text = localStorage.getItem(key(versionId));
    if (!text) return undefined;
    try {
      const unsent = entry.parse(JSON.parse(text));
      unsent.change.strokes.forEach((painted) => resources.strokes.set(nameOf(painted), painted));
      const whole = (steps: readonly Step[]): Step[] => steps.map((one) => ({ ...one, stack: ofToday(one.stack) }));
      return { ...unsent, change: { ...unsent.change, steps: whole(unsent.change.steps) }, steps: whole(unsent.steps) };
    } catch {
      localStorage.removeItem(key(versionId));
      return undefined;
    }
  },

  /** Returns the ids of versions with unsent changes. */
  all: (): string[] => Object.keys(localStorage).flatMap((name) => (name.startsWith(key('')) ? [name.slice(key('').length)] : [])),

  clear: (versionId: string): void => localStorage.removeItem(key(versionId)),
};
