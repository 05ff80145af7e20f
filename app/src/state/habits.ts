import { z } from 'zod';

/** Preferences kept in this browser. Losing them loses no work. */
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
