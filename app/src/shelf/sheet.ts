import type { Photo } from '@bexlen/api';

/** How the sheet is ordered. */
export const SORTS = [
  { id: 'new', label: 'Newest' },
  { id: 'taken', label: 'Taken' },
  { id: 'name', label: 'Name' },
] as const;
export type Sort = (typeof SORTS)[number]['id'];

/** Which photos are on it. */
export const FILTERS = [
  { id: 'all', label: 'All' },
  { id: 'picked', label: 'Picked' },
  { id: 'treated', label: 'Treated' },
  { id: 'plain', label: 'As they came' },
] as const;
export type Filter = (typeof FILTERS)[number]['id'];

export interface Wanted {
  readonly bin: boolean;
  readonly roll: string | undefined;
  readonly search: string;
  readonly filter: Filter;
  readonly sort: Sort;
}

const isTreated = ({ versions }: Photo): boolean => versions.some(({ layers }) => layers > 0);
const PASSES: Record<Filter, (photo: Photo) => boolean> = {
  all: () => true,
  picked: ({ picked }) => picked,
  treated: isTreated,
  plain: (photo) => !isTreated(photo),
};
/** The newest first; photos that do not say when they were taken stand at the time they came. */
const takenOf = ({ takenAt, importedAt }: Photo): string => takenAt ?? importedAt;
const ORDERS: Record<Sort, (a: Photo, b: Photo) => number> = {
  new: (a, b) => b.importedAt.localeCompare(a.importedAt),
  taken: (a, b) => takenOf(b).localeCompare(takenOf(a)),
  name: (a, b) => a.name.localeCompare(b.name),
};

/** Photos of the sheet, in order. */
export function onSheet(photos: readonly Photo[], { bin, roll, search, filter, sort }: Wanted): Photo[] {
  const words = search.trim().toLowerCase();
  return photos
    .filter((photo) => photo.binned === bin && (roll === undefined || photo.rollId === roll) && PASSES[filter](photo))
    .filter((photo) => words === '' || `${photo.name} ${photo.caption}`.toLowerCase().includes(words))
    .sort(ORDERS[sort]);
}
