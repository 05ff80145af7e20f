import type { Photo, ShelfPageWish } from '@bexlen/api';
import { server } from '../state/server';
import type { Wanted } from './sheet';

/** The most that the server tells at once. */
const MOST = 5000;

/** What the server has told of a sheet so far, in its order: of a shelf that is longer than a page, not all photos are known here. */
export interface ToldSheet {
  /** Of which sheet. */
  readonly key: string;
  readonly ids: readonly string[];
  /** Where the rest begins; null where that was all. */
  readonly next: string | null;
}

export const keyOf = ({ bin, roll, search, filter, sort }: Wanted): string => JSON.stringify([bin, roll, search.trim(), filter, sort]);

const wishOf = ({ bin, roll, search, filter, sort }: Wanted): ShelfPageWish => ({
  bin: bin ? '1' : '0',
  roll,
  find: search.trim() || undefined,
  filter,
  sort,
});

/** The next part of a sheet; of one that nothing was told of yet, the first. */
export async function askFor(wanted: Wanted, told: ToldSheet | undefined): Promise<{ readonly photos: readonly Photo[]; readonly told: ToldSheet }> {
  const key = keyOf(wanted);
  const before = told?.key === key ? told : undefined;
  const { photos, next } = await server.photos({ ...wishOf(wanted), after: before?.next ?? undefined });
  return { photos, told: { key, ids: [...new Set([...(before?.ids ?? []), ...photos.map(({ id }) => id)])], next } };
}

/** A sheet anew, as far as it was told. */
export async function askAnew(wanted: Wanted, { ids }: ToldSheet): Promise<{ readonly photos: readonly Photo[]; readonly told: ToldSheet }> {
  const { photos, next } = await server.photos({ ...wishOf(wanted), limit: Math.min(MOST, Math.max(1, ids.length)) });
  return { photos, told: { key: keyOf(wanted), ids: photos.map(({ id }) => id), next } };
}

/** Photos as they are by now, beside others that are known. */
export function merged(known: readonly Photo[], now: readonly Photo[]): Photo[] {
  const fresh = new Map(now.map((photo) => [photo.id, photo]));
  const kept = known.map((photo) => fresh.get(photo.id) ?? photo);
  const before = new Set(known.map(({ id }) => id));
  return [...kept, ...now.filter(({ id }) => !before.has(id))];
}
