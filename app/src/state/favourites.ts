import { z } from 'zod';
import { create } from 'zustand';
import { keepHabit, readHabit } from './habits';

const KEY = 'bexlen-favourite-kinds';

/** Kinds that stand first in the rack, kept in this browser. */
export const useFavourites = create<{ readonly kinds: readonly string[] }>(() => ({
  kinds: readHabit<readonly string[]>(KEY, z.array(z.string()), []),
}));

export function toggleFavourite(id: string): void {
  const { kinds } = useFavourites.getState();
  const next = kinds.includes(id) ? kinds.filter((kind) => kind !== id) : [...kinds, id];
  useFavourites.setState({ kinds: next });
  keepHabit(KEY, next);
}

/** Returns the list with favourites first; the order within both parts stays. */
export const favouritesFirst = <T extends { readonly id: string }>(list: readonly T[], favourites: readonly string[]): T[] => [
  ...list.filter(({ id }) => favourites.includes(id)),
  ...list.filter(({ id }) => !favourites.includes(id)),
];
