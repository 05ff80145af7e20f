import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError, checkName, fileName, longEdge, pictureSize } from '@bexlen/core';
import { fileWish, formatByEnding, formatOf, type FileWish, type FormatId } from '@bexlen/server/api';
import { uprightSize } from '@bexlen/server/decode';
import { inspect } from '@bexlen/server/inspect';
import { make } from '@bexlen/server/make';
import { sizeOfFile } from '@bexlen/server/size';
import type { Workshop } from '@bexlen/server/workshop';
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
  const free = freeNames();
  let [failed, count] = [0, 0];
  for (const photo of photos)
    for (const read of looks) {
      count++;
      try {
        const size = await sizeFor(photo, read, wish);
        const words = {
          photo: path.parse(photo).name,
          version: read.look.name,
          taken: '',
          today: new Date().toISOString().slice(0, 10),
          width: String(size.width),
          height: String(size.height),
          number: String(count).padStart(3, '0'),
        };
        const stem = order.wish.fileName === undefined && looks.length === 1 ? path.parse(photo).name : fileName(wish.fileName, words);
        const to = isFolder ? path.join(out, free(stem, ending)) : out;
        await renderOne(photo, to, { read, wish, size: longEdge(size) }, order, workshop, tell);
        tell.say(to);
      } catch (error) {
        failed++;
        tell.progress('');
        const { message, hint } = error as Partial<BexlenError>;
        tell.fault(`${photo}: ${message}${hint ? ` ${hint}` : ''}`);
      }
    }
  return failed;
}

/** Two photos of the same name from two folders do not write over each other. */
function freeNames(): (name: string, ending: string) => string {
  const taken = new Set<string>();
  return (name, ending) => {
    for (let n = 1; ; n++) {
      const file = `${name}${n > 1 ? `-${n}` : ''}.${ending}`;
      if (taken.has(file)) continue;
      taken.add(file);
      return file;
    }
  };
}

async function sizeFor(photo: string, { look }: Read, wish: FileWish): Promise<{ width: number; height: number }> {
  await fs.access(photo).catch(() => {
    throw new BexlenError('not-found', 'There is no such file.', 'Look at its name and folder.');
  });
  await inspect(photo, path.basename(photo));
  return sizeOfFile(pictureSize(look.stack.geometry, await uprightSize(photo)), wish);
}

interface One {
  readonly read: Read;
  readonly wish: FileWish;
  readonly size: number;
}

async function renderOne(
  photo: string,
  to: string,
  { read, wish, size }: One,
  { picture }: RenderOrder,
  workshop: Workshop,
  tell: Telling,
): Promise<void> {
  const { depth, alpha } = await inspect(photo, path.basename(photo));
  if (path.resolve(photo) === path.resolve(to))
    throw new BexlenError('bad-request', 'The result would take the place of the photo.', 'Give another name with -o.');
  const half = `${to}.part-${process.pid}`;
  try {
    const source = { file: photo, depth, alpha };
    const full = longEdge(pictureSize(read.look.stack.geometry, await uprightSize(photo)));
    const work = {
      source,
      stack: read.look.stack,
      wish,
      to: half,
      sharpen: wish.sharpen,
      metadata: wish.metadata,
      supplies: suppliesOf(read, source, picture),
      ...(size < full && { size }),
    };
    await make(workshop, work, { progress: (share) => tell.progress(`${path.basename(photo)}  ${Math.round(share * 100)} %`) });
    await fs.rename(half, to);
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
