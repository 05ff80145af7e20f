import { create } from 'zustand';

const KEY = 'bexlen-favourite-kinds';

function read(): readonly string[] {
  try {
    const kept: unknown = JSON.parse(globalThis.localStorage?.getItem(KEY) ?? '[]');
    return Array.isArray(kept) ? kept.filter((id) => typeof id === 'string') : [];
  } catch {
    return [];
  }
}

/** Kinds that stand first in the rack, kept in this browser. */
export const useFavourites = create<{ readonly kinds: readonly string[] }>(() => ({ kinds: read() }));

export function toggleFavourite(id: string): void {
  const { kinds } = useFavourites.getState();
  const next = kinds.includes(id) ? kinds.filter((kind) => kind !== id) : [...kinds, id];
  useFavourites.setState({ kinds: next });
  try {
    globalThis.localStorage?.setItem(KEY, JSON.stringify(next));
  } catch {
    // Without storage they last as long as the page.
  }
}

/** The same list with favourites first, each part in its own order. */
export const favouritesFirst = <T extends { readonly id: string }>(list: readonly T[], favourites: readonly string[]): T[] => [
  ...list.filter(({ id }) => favourites.includes(id)),
  ...list.filter(({ id }) => !favourites.includes(id)),
];
