import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { z } from 'zod';

/** A file that is not on the shelf yet. */
const waiting = z.object({
  key: z.number(),
  name: z.string(),
  file: z.instanceof(Blob),
  /** The roll that it belongs into. */
  roll: z.string().optional(),
  /** The upload that was begun of it. */
  upload: z.string().optional(),
});
export type Waiting = z.infer<typeof waiting>;

interface Scheme extends DBSchema {
  waiting: { key: number; value: Omit<Waiting, 'key'> & { key?: number } };
}

let opened: Promise<IDBPDatabase<Scheme>> | undefined;
const db = (): Promise<IDBPDatabase<Scheme>> =>
  (opened ??= openDB<Scheme>('bexlen-uploads', 1, {
    upgrade: (it) => void it.createObjectStore('waiting', { keyPath: 'key', autoIncrement: true }),
  }));

/** Files on their way to the shelf, kept in this browser until they are there: a page that is thrown away loses none. Without room for them they are sent all the same. */
export const waitingFiles = {
  add: async (file: Omit<Waiting, 'key'>): Promise<number | undefined> => (await db()).add('waiting', file).catch(() => undefined),
  begun: async (key: number, upload: string): Promise<void> => {
    const there = await (await db()).get('waiting', key);
    if (there) await (await db()).put('waiting', { ...there, upload });
  },
  has: async (key: number): Promise<boolean> => (await (await db()).getKey('waiting', key)) !== undefined,
  remove: async (key: number): Promise<void> => (await db()).delete('waiting', key),
  all: async (): Promise<Waiting[]> => (await (await db()).getAll('waiting')).flatMap((one) => waiting.safeParse(one).data ?? []),
};
