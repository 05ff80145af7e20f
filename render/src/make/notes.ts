import type { Size } from '@bexlen/core';
import type { FileWish } from '@bexlen/api';
import type { Source } from '../decode/decode';
import type { Carried, Metadata } from '../decode/metadata';

/** What somebody should know of a file that is made so, whatever comes of it: a sentence each. */
export function notesOn(wish: FileWish, source: Source): string[] {
  return source.alpha && wish.format === 'jpeg' ? [`JPEG holds no transparency: what is see-through lies on ${wish.ground}.`] : [];
}

/** Metadata for a file, as it is carried over; what is left out of it is added to the notes. */
export const noting =
  (notes: string[], carry: (size: Size) => Promise<Carried>) =>
  async (size: Size): Promise<Metadata> => {
    const { left, ...carried } = await carry(size);
    notes.push(...left);
    return carried;
  };
