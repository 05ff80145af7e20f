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
  /** Another program, or a page of somebody else, handed it over: it goes no further until somebody here wants it. */
  handed: z.literal(true).optional(),
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

/** How many files, and how many bytes of them, may lie here unasked. */
const MOST_HANDED = { files: 100, bytes: 1e9 };

/** Keeps files that were handed over, as many as there is room for. @returns how many were left out. */
export async function keepHanded(files: readonly File[]): Promise<number> {
  const there = (await waitingFiles.all()).filter(({ handed }) => handed);
  let [count, bytes] = [there.length, there.reduce((sum, { file }) => sum + file.size, 0)];
  let leftOut = 0;
  for (const file of files) {
    const fits = count < MOST_HANDED.files && bytes + file.size <= MOST_HANDED.bytes;
    if (!fits || (await waitingFiles.add({ name: file.name, file, handed: true })) === undefined) {
      leftOut++;
      continue;
    }
    count++;
    bytes += file.size;
  }
  return leftOut;
}
