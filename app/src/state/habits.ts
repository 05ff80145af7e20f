import { z } from 'zod';

/** What somebody is used to, kept in this browser: it is no loss if it is not there. */
export function readHabit<T>(key: string, schema: z.ZodType<T>, otherwise: T): T {
  try {
    return schema.parse(JSON.parse(globalThis.localStorage?.getItem(key) ?? 'null'));
  } catch {
    return otherwise;
  }
}

export function keepHabit(key: string, habit: unknown): void {
  try {
    globalThis.localStorage?.setItem(key, JSON.stringify(habit));
  } catch {
    // Without storage it lasts as long as the page.
  }
}
