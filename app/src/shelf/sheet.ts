import type { Filter, Photo, Sort } from '@bexlen/api';
import { say } from '../words';

/** How the sheet is ordered. */
export const SORTS: readonly { readonly id: Sort; readonly label: string }[] = [
  { id: 'new', label: say.shelf.newest },
  { id: 'taken', label: say.shelf.taken },
  { id: 'name', label: say.shelf.name },
];

/** Which photos are on it. */
export const FILTERS: readonly { readonly id: Filter; readonly label: string }[] = [
  { id: 'all', label: say.shelf.all },
  { id: 'picked', label: say.shelf.picked },
  { id: 'treated', label: say.shelf.treated },
  { id: 'plain', label: say.shelf.asTheyCame },
];

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

/** Photos of the sheet. */
const passing = (photos: readonly Photo[], { bin, roll, search, filter }: Wanted): Photo[] => {
  const words = search.trim().toLowerCase();
  return photos
    .filter((photo) => photo.binned === bin && (roll === undefined || photo.rollId === roll) && PASSES[filter](photo))
    .filter((photo) => words === '' || `${photo.name} ${photo.caption}`.toLowerCase().includes(words));
};

/** Photos of the sheet, in order, where all of the shelf are known. */
export const onSheet = (photos: readonly Photo[], wanted: Wanted): Photo[] => passing(photos, wanted).sort(ORDERS[wanted.sort]);

/** Photos of the sheet of which the server has told the order so far, as they are by now. */
export function inTold(photos: readonly Photo[], ids: readonly string[], wanted: Wanted): Photo[] {
  const known = new Map(passing(photos, wanted).map((photo) => [photo.id, photo]));
  return ids.flatMap((id) => known.get(id) ?? []);
}
