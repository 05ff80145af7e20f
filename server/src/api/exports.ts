import { z } from 'zod';
import { fault, id } from './common';

/** Long edge of a file that is to be smaller than the picture; a larger one than that is not made. */
const edge = z.number().int().min(64, 'A file has a long edge of at least 64 pixels.').max(60_000).optional();
export const exportWish = z.discriminatedUnion('format', [
  z.strictObject({ versionId: id, format: z.literal('jpeg'), quality: z.number().int().min(1).max(100), edge }),
  z.strictObject({ versionId: id, format: z.literal('png'), depth: z.union([z.literal(8), z.literal(16)]), edge }),
]);
export type ExportWish = z.infer<typeof exportWish>;

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
