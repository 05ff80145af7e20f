import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError, SKETCH_EDGE, sketchOf, type Cube, type Gamut, type Look, type Pixels } from '@bexlen/core';
import { decodeFitted } from '@bexlen/server/decode';
import { inspect } from '@bexlen/server/inspect';
import { make } from '@bexlen/server/make';
import type { Wish } from '@bexlen/server/encode';
import type { Workshop } from '@bexlen/server/workshop';

export interface RenderOrder {
  readonly photos: readonly string[];
  readonly look: Look;
  /** Reads a colour table that the look names. */
  readonly cube: (name: string) => Promise<Cube>;
  /** Reads another photo that the look lays over, to fit a long edge. */
  readonly picture: (name: string, edge: number, layer: string) => Promise<Pixels>;
  /** A file for one photo; a folder for several, or where it is one already. */
  readonly out: string;
  /** By the file's ending, unless said. */
  readonly format?: string;
  readonly depth?: 8 | 16;
  readonly quality: number;
  readonly gamut: Gamut;
  readonly size?: number;
}

const ENDINGS: Record<string, Wish['format']> = { jpg: 'jpeg', jpeg: 'jpeg', png: 'png', tif: 'tiff', tiff: 'tiff' };
const ENDING: Record<Wish['format'], string> = { jpeg: 'jpg', png: 'png', tiff: 'tif' };

/** Renders photos one after another. What cannot be rendered is told of and the rest goes on. Returns how many failed. */
export async function renderAll(
  order: RenderOrder,
  workshop: Workshop,
  say: (line: string) => void,
  progress: (line: string) => void,
): Promise<number> {
  const isFolder = await fs.stat(order.out).then(
    (stat) => stat.isDirectory(),
    () => order.photos.length > 1 || order.out.endsWith(path.sep),
  );
  const wish = wishOf(order, isFolder);
  if (isFolder) await fs.mkdir(order.out, { recursive: true });
  const taken = new Set<string>();
  let failed = 0;
  for (const photo of order.photos) {
    const to = isFolder ? path.join(order.out, freeName(path.parse(photo).name, ENDING[wish.format], taken)) : order.out;
    try {
      await renderOne(photo, to, wish, order, workshop, progress);
      say(to);
    } catch (error) {
      failed++;
      progress('');
      const { message, hint } = error as Partial<BexlenError>;
      process.stderr.write(`${photo}: ${message}${hint ? ` ${hint}` : ''}\n`);
    }
  }
  return failed;
}

/** Two photos of the same name from two folders do not write over each other. */
function freeName(name: string, ending: string, taken: Set<string>): string {
  for (let n = 1; ; n++) {
    const file = `${name}${n > 1 ? `-${n}` : ''}.${ending}`;
    if (taken.has(file)) continue;
    taken.add(file);
    return file;
  }
}

async function renderOne(
  photo: string,
  to: string,
  wish: Wish,
  order: RenderOrder,
  workshop: Workshop,
  progress: (line: string) => void,
): Promise<void> {
  await fs.access(photo).catch(() => {
    throw new BexlenError('not-found', 'There is no such file.', 'Look at its name and folder.');
  });
  const { depth, alpha } = await inspect(photo, path.basename(photo));
  if (path.resolve(photo) === path.resolve(to))
    throw new BexlenError('bad-request', 'The result would take the place of the photo.', 'Give another name with -o.');
  const half = `${to}.part-${process.pid}`;
  try {
    const source = { file: photo, depth, alpha };
    const work = {
      source,
      stack: order.look.stack,
      wish,
      to: half,
      supplies: {
        cube: order.cube,
        // A look names no strokes.
        painting: () => Promise.resolve([]),
        picture: order.picture,
        sketch: async () => sketchOf(await decodeFitted(source, SKETCH_EDGE)),
      },
      ...(order.size && { size: order.size }),
    };
    await make(workshop, work, { progress: (share) => progress(`${path.basename(photo)}  ${Math.round(share * 100)} %`) });
    await fs.rename(half, to);
    progress('');
  } catch (error) {
    await fs.rm(half, { force: true });
    throw error;
  }
}

function wishOf({ out, format, depth, quality, gamut }: RenderOrder, isFolder: boolean): Wish {
  const named = format ?? (isFolder ? 'jpg' : path.extname(out).slice(1));
  const chosen = ENDINGS[named.toLowerCase()];
  if (!chosen) throw new BexlenError('bad-request', `“${named}” is no format that can be written.`, 'Use jpg, png or tif.');
  if (chosen === 'jpeg' && depth === 16)
    throw new BexlenError('bad-request', 'JPEG holds 8 bits.', 'Use png or tif for 16 bits, or leave --depth out.');
  return chosen === 'jpeg' ? { format: chosen, quality, gamut } : { format: chosen, depth: depth ?? (chosen === 'tiff' ? 16 : 8), gamut };
}
