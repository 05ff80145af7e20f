import { create } from 'zustand';
import { beneathLook, putOn, type Stack } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { useBook, type Shown } from './book';
import { standOn } from './stand';
import { server } from '../state/server';
import { newId } from '../state/ids';

/** A photo with a stack: what is laid out beside others. */
export interface Cell {
  readonly photo: Photo;
  readonly stack: Stack;
  readonly name: string;
  /** What differs in it, in words and figures. */
  readonly line: string;
}

/** What is laid out, until it is put away. */
export const useVariants = create<{ readonly title: string; readonly cells: readonly Cell[] }>(() => ({ title: '', cells: [] }));
export const layOutVariants = (title: string, cells: readonly Cell[]): void => useVariants.setState({ title, cells });
export const putVariantsAway = (): void => layOutVariants('', []);

/** Photos as their last versions have them, each with each of some looks on it. Throws where the server is away. */
export async function looksOver(photos: readonly Photo[], looks: readonly Shown[], strength = 1): Promise<Cell[]> {
  const { where, fit } = useBook.getState();
  const rows = await Promise.all(
    photos.map(async (photo) => {
      const [latest] = photo.versions;
      const version = latest && (await server.version(latest.id));
      const base = version?.steps[version.cursor]?.stack;
      const from = base && fit ? await standOn(photo, beneathLook(base, where)) : undefined;
      return base
        ? looks.map(({ look }) => ({ photo, stack: putOn(base, look, { where, strength, from, newId }), name: photo.name, line: look.name }))
        : [];
    }),
  );
  return rows.flat();
}
