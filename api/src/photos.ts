import { z } from 'zod';
import { id, keptName, name, text } from './common';

/** Long edges in pixels at which a whole photo is sent to the page. */
export const PIXEL_EDGES = [256, 1024, 1536, 2048] as const;
/** Long edge in pixels of the small pictures of photos and versions. */
export const THUMB_EDGE = 640;
/** Characters of a caption, at most. */
export const LONGEST_CAPTION = 500;

/** A version as the shelf shows it: how many layers it has and of which families, its picture’s size in pixels, when it was changed (ISO date). */
export const versionSummary = z.object({
  id,
  name: keptName,
  revision: z.number().int(),
  layers: z.number(),
  families: z.array(z.string()),
  /** Of the finished picture, after its geometry. */
  width: z.number(),
  height: z.number(),
  changedAt: z.string(),
});
export type VersionSummary = z.infer<typeof versionSummary>;
/** A photo with its versions. Sizes are of the upright original in pixels, `bytes` of its file, `importedAt` an ISO date. */
export const photo = z.object({
  id,
  name: keptName,
  caption: z.string(),
  format: z.string(),
  width: z.number(),
  height: z.number(),
  depth: z.union([z.literal(8), z.literal(16)]),
  alpha: z.boolean(),
  /** The primaries that it is worked on in: sRGB, or Display P3 where it holds more. */
  gamut: z.enum(['srgb', 'display-p3']).default('srgb'),
  /** Of a raw file, which can be developed otherwise: light that its largest value stands for, as a multiple of white. */
  headroom: z.number().nullable().default(null),
  bytes: z.number(),
  picked: z.boolean(),
  binned: z.boolean(),
  importedAt: z.string(),
  /** As the camera says; it knows no time zone, and none is meant. */
  takenAt: z.string().nullable(),
  /** The roll that it lies in. */
  rollId: id.nullable(),
  versions: z.array(versionSummary),
  /** Its original is not there, or not as long as it was: it can be looked at where it is kept small, and comes back when the same file is imported again. */
  missing: z.boolean().default(false),
});
export type Photo = z.infer<typeof photo>;

/** How the shelf is ordered: the newest first, by the time of taking, by name. */
export const SORTS = ['new', 'taken', 'name'] as const;
export type Sort = (typeof SORTS)[number];
/** Which photos are on it: all, those that are picked, those with layers, those without. */
export const FILTERS = ['all', 'picked', 'treated', 'plain'] as const;
export type Filter = (typeof FILTERS)[number];
/** Photos of a page of the shelf, unless fewer or more are asked for; and at most. */
export const PAGE = 500;
const LONGEST_PAGE = 5000;

/** Which photos of the shelf are wanted, and from where on. Without anything: the first page of all, also of those in the bin, the newest first. */
export const shelfWish = z.strictObject({
  sort: z.enum(SORTS).default('new'),
  filter: z.enum(FILTERS).default('all'),
  bin: z
    .enum(['0', '1'])
    .transform((flag) => flag === '1')
    .optional(),
  roll: id.optional(),
  /** Characters anywhere in names and captions, whatever their case. */
  find: text().trim().max(LONGEST_CAPTION).default(''),
  /** Where the page before ended, as it says under `next`. */
  after: text().optional(),
  limit: z.coerce.number().int().min(1).max(LONGEST_PAGE).default(PAGE),
});
export type ShelfWish = z.infer<typeof shelfWish>;
/** The same as it is asked for. */
export type ShelfPageWish = { readonly [K in keyof ShelfWish]?: (K extends 'bin' ? '0' | '1' : ShelfWish[K]) | undefined };
/** A page of the shelf, how many photos of it could not be read, which must not hide the others, and where the next one begins; null after the last. */
export interface ShelfPage {
  readonly photos: Photo[];
  readonly unread: number;
  readonly next: string | null;
}

/** Such a page on its way. */
export const shelf = z.object({ photos: z.array(z.unknown()), unread: z.number().int(), next: z.string().nullable().default(null) });

/** An original that no photo names, set aside. */
export const orphan = z.object({ id: z.string(), bytes: z.number(), foundAt: z.string() });
export type Orphan = z.infer<typeof orphan>;
/** All originals that no photo names. */
export const orphans = z.object({ orphans: z.array(orphan) });

/** What came of a file that was taken in: its photo, whether that was there before, and sentences on what there is to tell. */
export const imported = z.object({ photo, known: z.boolean(), notes: z.array(z.string()).default([]) });
export type Imported = z.infer<typeof imported>;

/** A folder of the shelf. */
export const roll = z.object({ id, name: keptName, photos: z.number().int() });
export type Roll = z.infer<typeof roll>;
/** All rolls. */
export const rolls = z.object({ rolls: z.array(roll) });
const MOST_MOVED = 5000;
/** A roll to be made, and photos that go into it. */
export const newRollWish = z.strictObject({ name, photos: z.array(id).max(MOST_MOVED).default([]) });
/** Another name for a roll. */
export const rollChange = z.strictObject({ name });
/** Photos that go into a roll, or into none. */
export const rollMove = z.strictObject({ photos: z.array(id).min(1).max(MOST_MOVED), rollId: id.nullable() });

/** What of a photo is changed; what is not named stays. */
export const photoChange = z.strictObject({ name, caption: text().max(LONGEST_CAPTION), picked: z.boolean(), binned: z.boolean() }).partial();
export type PhotoChange = z.infer<typeof photoChange>;
