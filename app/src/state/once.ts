import { create } from 'zustand';
import { z } from 'zod';
import { keepHabit, readHabit } from './habits';

const KEY = 'bexlen-once';
/** Shown no more once the words under the tools were put away. */
export const TOOL_WORDS = 'tool-words';

/** What was shown often enough on this device. */
const useOnce = create<{ readonly shown: readonly string[] }>(() => ({ shown: readHabit(KEY, z.array(z.string()), []) }));

export const wasShown = (id: string): boolean => useOnce.getState().shown.includes(id);
export const useWasShown = (id: string): boolean => useOnce(({ shown }) => shown.includes(id));

/** Notes that something was shown, or that it is to be shown again. */
export function noteShown(id: string, done = true): void {
  const shown = [...useOnce.getState().shown.filter((it) => it !== id), ...(done ? [id] : [])];
  useOnce.setState({ shown });
  keepHabit(KEY, shown);
}
