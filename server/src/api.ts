import { z } from 'zod';
import { keptText, paintedSchema, type Stack } from '@bexlen/core';

/** What goes over the wire between the app and the server. Both sides check with these. */
export const PIXEL_EDGES = [256, 1024, 1536, 2048] as const;
export const THUMB_EDGE = 640;
export const MAX_STEPS = 100;
export const LONGEST_NAME = 120;
export const LONGEST_CAPTION = 500;

const stack = z.unknown() as unknown as z.ZodType<Stack>;
const id = z.string().min(1).max(60);
const text = (): z.ZodString => keptText(z.string());
const name = text().trim().min(1, 'A name needs at least one character.').max(LONGEST_NAME, `A name has at most ${LONGEST_NAME} characters.`);

/** A name as it was kept, whatever may be asked of new ones by now. */
const keptName = z.string();

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
export const photo = z.object({
  id,
  name: keptName,
  caption: z.string(),
  format: z.string(),
  width: z.number(),
  height: z.number(),
  depth: z.union([z.literal(8), z.literal(16)]),
  alpha: z.boolean(),
  bytes: z.number(),
  picked: z.boolean(),
  binned: z.boolean(),
  importedAt: z.string(),
  versions: z.array(versionSummary),
});
export type Photo = z.infer<typeof photo>;

/** The shelf, and how many photos are on it that could not be read. */
export const shelf = z.object({ photos: z.array(z.unknown()), unread: z.number().int() });

export const imported = z.object({ photo, known: z.boolean() });

export const photoChange = z.strictObject({ name, caption: text().max(LONGEST_CAPTION), picked: z.boolean(), binned: z.boolean() }).partial();
export type PhotoChange = z.infer<typeof photoChange>;

export const step = z.object({ words: text().max(200), stack });
export type Step = z.infer<typeof step>;

export const version = z.object({
  id,
  photoId: id,
  name: keptName,
  revision: z.number().int(),
  /** The states it has been in, the first one being how it began; `cursor` is the one in force. */
  steps: z.array(step).min(1),
  cursor: z.number().int().min(0),
});
export type Version = z.infer<typeof version>;

/** Strokes that steps name and that the server may not have yet, each after the one that it follows. */
export const MOST_SENT_STROKES = 5000;
const strokes = z.array(paintedSchema).max(MOST_SENT_STROKES, `At most ${MOST_SENT_STROKES} strokes are sent at once.`).default([]);

export const newVersion = z.strictObject({ name, steps: z.array(step).min(1).max(MAX_STEPS), cursor: z.number().int().min(0), strokes });
export type NewVersion = z.infer<typeof newVersion>;

/** Replaces the steps from `from` on, of the revision that is named. */
export const versionChange = z.strictObject({
  replaces: z.number().int().min(0),
  /** How many of the oldest steps to forget. */
  forget: z.number().int().min(0),
  from: z.number().int().min(0),
  steps: z.array(step).max(MAX_STEPS),
  cursor: z.number().int().min(0),
  strokes,
});
export type VersionChange = z.infer<typeof versionChange>;
export const versionName = z.strictObject({ name });
export const kept = z.object({ revision: z.number().int() });

/** Long edge of a file that is to be smaller than the picture; a larger one than that is not made. */
const edge = z.number().int().min(64, 'A file has a long edge of at least 64 pixels.').max(60_000).optional();
export const exportWish = z.discriminatedUnion('format', [
  z.strictObject({ versionId: id, format: z.literal('jpeg'), quality: z.number().int().min(1).max(100), edge }),
  z.strictObject({ versionId: id, format: z.literal('png'), depth: z.union([z.literal(8), z.literal(16)]), edge }),
]);
export type ExportWish = z.infer<typeof exportWish>;

/** The strokes of a painting, the first one first, and the one before them that is lost. */
export const painting = z.object({ strokes: z.array(paintedSchema), missing: z.string().optional() });

export const cubeKept = z.object({ name: z.string() });

export const fault = z.object({ code: z.string(), message: z.string(), hint: z.string() });
export type Fault = z.infer<typeof fault>;

export const exportJob = z.object({
  id,
  photoId: id,
  versionId: id,
  fileName: z.string(),
  format: z.enum(['jpeg', 'png']),
  quality: z.number().nullable(),
  depth: z.union([z.literal(8), z.literal(16)]),
  state: z.enum(['waiting', 'working', 'done', 'failed', 'cancelled']),
  /** 0..1 */
  progress: z.number(),
  width: z.number(),
  height: z.number(),
  bytes: z.number().nullable(),
  tookMs: z.number().nullable(),
  fault: fault.nullable(),
  createdAt: z.string(),
});
export type ExportJob = z.infer<typeof exportJob>;
