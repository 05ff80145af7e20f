import { z } from 'zod';
import { lookFolder, lookName, lookNote, lookSays, placesOfLooks, type PlaceOfLook } from '@bexlen/core';
import { id } from './common';

/** A look on its way: its file, as it was read and written again, without its tables, which are kept on the server. */
export const keptLook = z.object({
  id,
  /** Whether it is one's own; ours cannot be changed or thrown away. */
  own: z.boolean(),
  favourite: z.boolean(),
  file: z.unknown(),
});
export type KeptLook = z.infer<typeof keptLook>;
/** All looks, those that come with Bexlen too. */
export const lookbook = z.object({
  looks: z.array(keptLook),
  /** There are more: the id after which they are asked for. */
  next: z.string().optional(),
});
export type Lookbook = z.infer<typeof lookbook>;
/** What is asked for of the lookbook: looks after one of them. */
export const lookPage = z.object({ after: z.string().max(60).optional() });
/** Looks of a page at most. */
export const LOOKS_A_PAGE = 200;

/** What of a look is changed; what is not named stays. */
export const lookChange = z.strictObject({ name: lookName, folder: lookFolder, note: lookNote, says: lookSays, favourite: z.boolean() }).partial();
export type LookChange = z.infer<typeof lookChange>;

/** Photos that a look is put on at once, and versions that are removed at once, at most. */
export const MOST_PHOTOS = 1000;
/** Looks of one's own that a lookbook takes. */
export const MOST_LOOKS = 2000;
/** A look that is put on photos: each gets a new version. */
export const lookOrder = z.strictObject({
  photos: z.array(id).min(1).max(MOST_PHOTOS, `At most ${MOST_PHOTOS} photos at once.`),
  where: z.enum(placesOfLooks.map(({ id: place }) => place) as [PlaceOfLook, ...PlaceOfLook[]]),
  strength: z.number().min(0).max(1),
  /** Whether each photo is brought to where the look was made. */
  fit: z.boolean().default(false),
});
export type LookOrder = z.infer<typeof lookOrder>;
/** The versions that a look was put on, and their photos. */
export const putVersions = z.object({ versions: z.array(z.object({ id, photoId: id })) });
export type PutVersions = z.infer<typeof putVersions>;

/** Versions that were just made and are to go again: only such as nobody has changed. */
export const versionsGone = z.strictObject({ ids: z.array(id).min(1).max(MOST_PHOTOS) });

/** What was taken in of a file with looks, and all that is wrong with it; then nothing was taken in. */
export const looksImported = z.object({
  added: z.array(id),
  faults: z.array(z.object({ path: z.string(), message: z.string() })),
});
export type LooksImported = z.infer<typeof looksImported>;
