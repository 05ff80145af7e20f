import { create } from 'zustand';
import { z } from 'zod';
import { keepHabit, readHabit } from './habits';

const KEY = 'bexlen-told';
/** Told once the words under the tools were put away. */
export const TOOL_WORDS = 'tool-words';

/** What was told once on this device and need not be told again. */
const useTold = create<{ readonly told: readonly string[] }>(() => ({ told: readHabit(KEY, z.array(z.string()), []) }));

export const wasTold = (id: string): boolean => useTold.getState().told.includes(id);
export const useWasTold = (id: string): boolean => useTold(({ told }) => told.includes(id));

/** Notes that something was told, or that it is to be told again. */
export function noteTold(id: string, done = true): void {
  const told = [...useTold.getState().told.filter((it) => it !== id), ...(done ? [id] : [])];
  useTold.setState({ told });
  keepHabit(KEY, told);
}
