import { z } from 'zod';
import { paintedSchema, type NamedStroke, type Painted, type Stack } from '@bexlen/core';
import { id, keptName, name, text } from './common';

/** Steps that a version keeps, at most; the oldest go. */
export const MAX_STEPS = 100;

const stack = z.unknown() as unknown as z.ZodType<Stack>;

/** A whole stack, and a sentence of up to 200 characters on what was done. */
export const step = z.object({ words: text().max(200), stack });
export type Step = z.infer<typeof step>;

/** One treatment of a photo. `revision` counts its changes: a change names the one that it replaces. */
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

/** A version to be made, with the strokes that its steps name. */
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
/** What was sent, with its strokes under their names. */
export type Named<T extends { strokes: readonly Painted[] }> = Omit<T, 'strokes'> & { readonly strokes: readonly NamedStroke[] };
/** Another name for a version. */
export const versionName = z.strictObject({ name });
/** The revision that a version has once a change is kept. */
export const kept = z.object({ revision: z.number().int() });

/** The strokes of a painting, the first one first, and the one before them that is lost. */
export const painting = z.object({ strokes: z.array(paintedSchema), missing: z.string().optional() });

/** The name by which layers refer to a colour table that was kept: its hash. */
export const cubeKept = z.object({ name: z.string() });
