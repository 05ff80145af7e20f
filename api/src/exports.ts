import { z } from 'zod';
import { usualName, type Stack } from '@bexlen/core';
import { fault, id, name, text } from './common';
import { fileFormats, type FormatId } from './formats';

const side = z.number().int().min(16, 'A file is at least 16 pixels wide and high.').max(65_500);
/** Long edge of a file that is to be smaller than the picture; a larger one than that is not made. */
const edge = z.number().int().min(64, 'A file has a long edge of at least 64 pixels.').max(60_000);

/** For what a file is sharpened, last of all, at its own size. */
export const sharpenings = [
  { id: 'none', label: 'As it is' },
  { id: 'screen', label: 'For a screen' },
  { id: 'print', label: 'For print' },
] as const;
export type Sharpening = (typeof sharpenings)[number]['id'];
/** What of the original’s EXIF, IPTC and XMP is carried over: all but the place, all, or nothing. */
export const policies = [
  { id: 'noplace', label: 'Without place' },
  { id: 'keep', label: 'All' },
  { id: 'strip', label: 'None' },
] as const;
export type Policy = (typeof policies)[number]['id'];

/** What a format without transparency lays a half-transparent picture on. */
export const grounds = [
  { id: 'white', label: 'White' },
  { id: 'grey', label: 'Grey' },
  { id: 'black', label: 'Black' },
] as const;
export type Ground = (typeof grounds)[number]['id'];

const ids = <T extends { id: string }>(list: readonly T[]): [T['id'], ...T['id'][]] => list.map((each) => each.id) as [T['id'], ...T['id'][]];

const finish = {
  quality: z.number().int().min(1).max(100).optional(),
  depth: z.union([z.literal(8), z.literal(16)]).optional(),
  /** The primaries of the file: as the photo has them, or others. */
  gamut: z.enum(['photo', 'srgb', 'display-p3']).default('photo'),
  edge: edge.optional(),
  /** It fits into so many pixels. */
  box: z.strictObject({ width: side, height: side }).optional(),
  megapixels: z.number().min(0.01).max(500).optional(),
  ground: z.enum(ids(grounds)).default('white'),
  sharpen: z.enum(ids(sharpenings)).default('none'),
  /** What of the original's EXIF, IPTC and XMP is carried over. */
  metadata: z.enum(ids(policies)).default('noplace'),
  fileName: text().trim().min(1, 'A file needs a name.').max(120).default(usualName),
};

/** What a file is to be like. */
export const fileWish = z.strictObject({ format: z.enum(ids(fileFormats as readonly { id: FormatId }[])), ...finish }).superRefine(checked);
export type FileWish = z.infer<typeof fileWish>;

function checked(
  { format, depth, quality, edge: long, box, megapixels }: z.infer<z.ZodObject<typeof finish>> & { format: FormatId },
  context: z.RefinementCtx,
): void {
  const { label, depths, quality: usual } = fileFormats.find((each) => each.id === format) as (typeof fileFormats)[number];
  if (depth !== undefined && !depths.includes(depth)) context.addIssue({ code: 'custom', path: ['depth'], message: `${label} holds 8 bits.` });
  if (quality !== undefined && usual === undefined)
    context.addIssue({ code: 'custom', path: ['quality'], message: `${label} has no quality: it loses nothing.` });
  if ([long, box, megapixels].filter((size) => size !== undefined).length > 1)
    context.addIssue({ code: 'custom', path: ['edge'], message: 'A size is told by one of edge, box and megapixels.' });
}

/** Files that are ordered at once, at most. */
export const MOST_FILES = 500;
/** A file of one version, as its size is asked for beforehand. @throws {ZodError} where the format has no such depth or quality, or a size is told in two ways. */
export const exportWish = z
  .strictObject({ versionId: id, format: z.enum(ids(fileFormats as readonly { id: FormatId }[])), ...finish })
  .superRefine(checked);
export type ExportWish = z.input<typeof exportWish>;
/** Files of several versions in one go. */
export const exportOrder = z.strictObject({ versionIds: z.array(id).min(1).max(MOST_FILES), wish: fileWish });
export type ExportOrder = z.input<typeof exportOrder>;

/** Files of the list that something is done to together. */
export const exportIds = z.strictObject({ ids: z.array(id).min(1).max(MOST_FILES) });

/** About how large a file will be. */
export const estimate = z.object({ bytes: z.number(), width: z.number(), height: z.number() });
export type Estimate = z.infer<typeof estimate>;

/** A wish for files that somebody keeps. */
export const preset = z.object({ id, name, wish: fileWish });
export type Preset = z.infer<typeof preset>;
/** A preset to be kept. */
export const newPreset = z.strictObject({ name, wish: fileWish });

const stack = z.unknown() as unknown as z.ZodType<Stack>;
/** A stack of which a small picture is wanted. */
export const pictureWish = z.strictObject({ stack });
/** Sizes of paper for contact sheets. */
export const pages = [
  { id: 'a4', label: 'A4' },
  { id: 'letter', label: 'Letter' },
] as const;
/** A contact sheet: pictures of photos with stacks, each with a name and a line of values. */
export const sheetWish = z.strictObject({
  title: name,
  page: z.enum(ids(pages)),
  upright: z.boolean(),
  columns: z.number().int().min(1).max(8),
  /** Small crosses to cut along. */
  marks: z.boolean().default(true),
  cells: z
    .array(z.strictObject({ photoId: id, stack, name: text().max(120), line: text().max(200) }))
    .min(1)
    .max(300, 'A contact sheet takes at most 300 pictures.'),
});
export type SheetWish = z.infer<typeof sheetWish>;

/** A file that was ordered. Sizes are in pixels and bytes, `tookMs` in milliseconds, `createdAt` an ISO date. */
export const exportJob = z.object({
  id,
  photoId: id,
  versionId: id.nullable(),
  /** Shared by files that were ordered together. */
  batch: id.nullable().default(null),
  fileName: z.string(),
  /** Of a picture, or another kind of file. */
  format: z.enum([...ids(fileFormats as readonly { id: FormatId }[]), 'pdf', 'ora']),
  quality: z.number().nullable(),
  depth: z.union([z.literal(8), z.literal(16)]),
  /** The primaries of what is in it. */
  gamut: z.enum(['srgb', 'display-p3']).default('srgb'),
  state: z.enum(['waiting', 'working', 'done', 'failed', 'cancelled']),
  /** 0..1 */
  progress: z.number(),
  width: z.number(),
  height: z.number(),
  bytes: z.number().nullable(),
  tookMs: z.number().nullable(),
  fault: fault.nullable(),
  /** What there is to tell of the file. */
  notes: z.array(z.string()).default([]),
  createdAt: z.string(),
  /** The name of the machine that makes it or has made it. */
  machine: z.string().nullable().default(null),
});
export type ExportJob = z.infer<typeof exportJob>;

/** A machine that makes files. */
export const machine = z.object({
  id,
  name: z.string(),
  threads: z.number(),
  /** Files that it has made since it began, and by the minute lately. */
  made: z.number(),
  perMinute: z.number(),
  /** It has not been heard of for a while: what it was making was given to another. */
  silent: z.boolean(),
  /** The file that it is making. */
  doing: z.string().nullable(),
});
export type Machine = z.infer<typeof machine>;
/** All that make files, and how many files wait for one of them. */
export const machineList = z.object({ machines: z.array(machine), waiting: z.number() });
export type MachineList = z.infer<typeof machineList>;
