import fs from 'node:fs/promises';
import path from 'node:path';
import { decodeFitted, type Source } from '@bexlen/render/decode/decode';
import { sourceAt } from '@bexlen/render/decode/source';
import type { Supplies } from '@bexlen/render/make/make';
import {
  allLayers,
  BexlenError,
  echoed,
  lookFile,
  namedIn,
  nameOf,
  readCube,
  readLook,
  PROXY_EDGE,
  proxyOf,
  takeLook,
  type Cube,
  type Look,
  type LookFault,
  type NamedStroke,
  type Taking,
} from '@bexlen/core';

/** A look file that was read. */
export interface Read {
  readonly file: string;
  readonly look: Look;
}

const textOf = (file: string): Promise<string> =>
  fs.readFile(file, 'utf8').catch(() => {
    throw new BexlenError('not-found', `${file} cannot be read.`, 'Look at its name and folder.');
  });

/** Reads a look file. Throws the first fault of it. */
export async function lookOf(file: string): Promise<Read> {
  const { look, faults } = readLook(await textOf(file));
  if (look) return { file, look };
  const [first] = faults;
  const more = faults.length > 1 ? ` (and ${faults.length - 1} more)` : '';
  throw new BexlenError(
    'bad-version',
    `${file}: ${first?.path ? `${first.path}: ` : ''}${first?.message ?? ''}${more}`,
    `See ./bexlen look check ${file}`,
  );
}

/** A look with the colour tables that it names, or all that is wrong with either. */
export async function checked(file: string): Promise<ReturnType<typeof readLook>> {
  const read = readLook(await textOf(file));
  if (!read.look) return read;
  const faults: LookFault[] = [];
  for (const name of namedIn(read.look.stack.layers, 'file'))
    await cubeFor({ file, look: read.look }, name).catch((error: Error) => faults.push({ path: name, message: error.message }));
  return faults.length > 0 ? { look: undefined, faults } : read;
}

/** A colour table that a look names: in its file, or by a path from where it lies. */
const cubeFor = async ({ file, look }: Read, name: string): Promise<Cube> =>
  readCube(look.cubes[name] ?? (await textOf(path.join(path.dirname(file), name))));

/** Strokes of a look's painting, the first one first. */
function paintingIn({ strokes }: Look, last: string): NamedStroke[] {
  const byName = new Map(strokes.map((painted) => [nameOf(painted), painted]));
  const found: NamedStroke[] = [];
  for (let name = last, painted = byName.get(name); painted; name = painted.after, painted = byName.get(name)) found.unshift([name, painted]);
  return found;
}

/** What a look names, for a photo. @param given the photo that all its pictures show; by their names beside the look unless given. */
export function suppliesOf(read: Read, source: Source, given: string | undefined): Supplies {
  return {
    cube: (name) => cubeFor(read, name),
    painting: (name) => Promise.resolve(paintingIn(read.look, name)),
    proxy: async () => proxyOf(await decodeFitted(source, PROXY_EDGE)),
    picture: async (name, edge, layer) => {
      if (given === undefined && name === '') throw new BexlenError('not-found', `“${echoed(layer)}” shows a photo.`, 'Give it with --picture.');
      const file = given ?? path.join(path.dirname(read.file), name);
      await fs.access(file).catch(() => {
        throw new BexlenError('not-found', `${file}, the photo of “${echoed(layer)}”, cannot be read.`, 'Give another with --picture.');
      });
      const { layout, pixels } = await decodeFitted(await sourceAt(file), Math.max(16, edge));
      return { layout, bytes: pixels };
    },
  };
}

interface TakeOrder extends Omit<Taking, 'layers'> {
  /** Names of layers; all, unless given. */
  readonly layers: readonly string[];
  readonly name?: string | undefined;
  readonly folder?: string | undefined;
  readonly note?: string | undefined;
}

/** Takes a part of a look as one of its own. Gives its text, and what had to stay behind. */
export function taken(
  { look }: Read,
  { layers, name, folder, note, ...taking }: TakeOrder,
): { readonly text: string; readonly left: readonly string[] } {
  const all = allLayers(look.stack.layers);
  const chosen = layers.map((wanted) => {
    const found = all.find((layer) => layer.name.toLowerCase() === wanted.trim().toLowerCase());
    if (!found)
      throw new BexlenError('not-found', `There is no layer “${echoed(wanted)}”.`, `There are ${all.map((layer) => layer.name).join(', ')}.`);
    return found.id;
  });
  const { stack, left } = takeLook(look.stack, { ...taking, ...(chosen.length > 0 && { layers: new Set(chosen) }) });
  const named = namedIn(stack.layers, 'file');
  const made: Look = {
    ...look,
    name: name ?? look.name,
    ...((folder ?? look.folder) !== undefined && { folder: folder ?? (look.folder as string) }),
    ...((note ?? look.note) !== undefined && { note: note ?? (look.note as string) }),
    fit: chosen.length > 0 ? [] : look.fit,
    geometry: taking.geometry && look.geometry,
    strokes: taking.strokes ? look.strokes : [],
    cubes: Object.fromEntries(Object.entries(look.cubes).filter(([cube]) => named.includes(cube))),
    stack,
  };
  return { text: `${JSON.stringify(lookFile(made), null, 2)}\n`, left };
}
