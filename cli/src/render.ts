import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError, checkName, fileName, longEdge, pictureSize } from '@bexlen/core';
import { fileWish, formatByEnding, formatOf, type FileWish, type FormatId } from '@bexlen/api';
import { freeNames } from '@bexlen/render/files/zips';
import type { Source } from '@bexlen/render/decode/decode';
import { sourceAt } from '@bexlen/render/decode/source';
import { make } from '@bexlen/render/make/make';
import { metadataOf } from '@bexlen/render/decode/metadata';
import { notesOn, noting } from '@bexlen/render/make/notes';
import { sizeOfFile } from '@bexlen/render/encode/size';
import type { Workshop } from '@bexlen/render/pool/workshop';
import { suppliesOf, type Read } from './looks';

export interface RenderOrder {
  readonly photos: readonly string[];
  /** Each photo is rendered with each of them. */
  readonly looks: readonly Read[];
  readonly picture: string | undefined;
  /** A file for one picture; a folder for several, or where it is one already. */
  readonly out: string;
  /** By the file's ending, unless said. */
  readonly format: string | undefined;
  readonly wish: Partial<Omit<FileWish, 'format'>>;
}

/** What is told while pictures are made. */
export interface Telling {
  readonly say: (line: string) => void;
  readonly progress: (line: string) => void;
  readonly fault: (line: string) => void;
}

/** Renders photos one after another. What cannot be rendered is told of and the rest goes on. Returns how many failed. */
export async function renderAll(order: RenderOrder, workshop: Workshop, tell: Telling): Promise<number> {
  const { photos, looks, out } = order;
  const several = photos.length * looks.length > 1;
  const isFolder = await fs.stat(out).then(
    (stat) => stat.isDirectory(),
    () => several || out.endsWith(path.sep),
  );
  const wish = wishOf(order, isFolder);
  const { ending } = formatOf(wish.format);
  if (isFolder) await fs.mkdir(out, { recursive: true });
  // Two photos of the same name from two folders do not write over each other.
  const free = freeNames('-');
  let [failed, count] = [0, 0];
  const trying = async (photo: string, act: () => Promise<void>): Promise<void> => {
    try {
      await act();
    } catch (error) {
      failed++;
      tell.progress('');
      const { message, hint } = error as Partial<BexlenError>;
      tell.fault(`${photo}: ${message}${hint ? ` ${hint}` : ''}`);
    }
  };
  for (const photo of photos)
    await trying(photo, async () => {
      const seen = await look(photo);
      for (const read of looks)
        await trying(photo, async () => {
          const full = pictureSize(read.look.stack.geometry, seen);
          const size = sizeOfFile(full, wish);
          const { name } = path.parse(photo);
          const named = { photo: name, version: read.look.name, takenAt: seen.takenAt, today: new Date(), size, number: ++count };
          const stem = order.wish.fileName === undefined && looks.length === 1 ? name : fileName(wish.fileName, named);
          const to = isFolder ? path.join(out, free(stem, ending)) : out;
          const smaller = longEdge(size) < longEdge(full) ? { size: longEdge(size) } : {};
          await renderOne(seen, to, { read, wish, ...smaller }, order, workshop, tell);
          tell.say(to);
        });
    });
  return failed;
}

interface Seen extends Source {
  readonly width: number;
  readonly height: number;
  readonly takenAt?: string;
}

/** Looks at a photo once, from end to end. Throws what is wrong with it. */
async function look(file: string): Promise<Seen> {
  await fs.access(file).catch(() => {
    throw new BexlenError('not-found', 'There is no such file.', 'Look at its name and folder.');
  });
  return sourceAt(file);
}

interface One {
  readonly read: Read;
  readonly wish: FileWish;
  /** Long edge, where it is smaller than the picture. */
  readonly size?: number;
}

async function renderOne(
  source: Seen,
  to: string,
  { read, wish, ...smaller }: One,
  { picture }: RenderOrder,
  workshop: Workshop,
  tell: Telling,
): Promise<void> {
  if (path.resolve(source.original ?? source.file) === path.resolve(to))
    throw new BexlenError('bad-request', 'The result would take the place of the photo.', 'Give another name with -o.');
  const half = `${to}.part-${process.pid}`;
  const notes = notesOn(wish, source);
  try {
    const { sharpen } = wish;
    const metadata = noting(notes, (of) => metadataOf(source.original ?? source.file, wish.metadata, of));
    const work = { source, stack: read.look.stack, wish, to: half, sharpen, metadata, supplies: suppliesOf(read, source, picture), ...smaller };
    await make(workshop, work, {
      progress: (share) => tell.progress(`${path.basename(source.original ?? source.file)}  ${Math.round(share * 100)} %`),
    });
    await fs.rename(half, to);
    notes.forEach((note) => tell.fault(`${to}: ${note}`));
    tell.progress('');
  } catch (error) {
    await fs.rm(half, { force: true });
    throw error;
  }
}

function wishOf({ out, format, wish }: RenderOrder, isFolder: boolean): FileWish {
  const named = format ?? (isFolder ? 'jpg' : path.extname(out).slice(1));
  const chosen: FormatId | undefined = formatByEnding(named.toLowerCase())?.id;
  if (!chosen) throw new BexlenError('bad-request', `“${named}” is no format that can be written.`, 'Use jpg, png, tif, webp or avif.');
  if (wish.fileName !== undefined) checkName(wish.fileName);
  const { quality, ...rest } = wish;
  const lossy = formatOf(chosen).quality !== undefined;
  const read = fileWish.safeParse({ format: chosen, ...rest, ...(lossy && quality !== undefined && { quality }) });
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new BexlenError('bad-request', issue?.message ?? 'That cannot be written.', 'See ./bexlen --help');
}
