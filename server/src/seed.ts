import fs from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { named, paintedSchema, readLook, readStack, type Stack } from '@bexlen/core';
import type { Folder } from './folder';
import type { Decoders } from './decoders/decoders';
import { importPhoto } from './importer';
import type { Db } from './store/db';
import { addVersion } from './store/versions';
import { allHashes, changePhoto } from './store/photos';

const shelf = z.array(
  z.strictObject({
    file: z.string(),
    name: z.string(),
    caption: z.string(),
    picked: z.boolean().optional(),
    versions: z
      .array(
        z.union([
          z.strictObject({ name: z.string(), stack: z.unknown(), strokes: z.array(paintedSchema).default([]) }),
          z.strictObject({ look: z.string() }),
        ]),
      )
      .optional(),
  }),
);

/** Fills an empty shelf with the demo photos and their versions. A shelf that has photos is left alone: then it returns false. */
export async function seed(db: Db, folder: Folder, decoders: Decoders, demo: string): Promise<boolean> {
  if ((await allHashes(db)).size > 0) return false;
  const entries = shelf.parse(JSON.parse(await fs.readFile(path.join(demo, 'shelf.json'), 'utf8')));
  const ids = new Map<string, string>();
  const all: { id: string; versions: NonNullable<(typeof entries)[number]['versions']> }[] = [];
  for (const { file, name, caption, picked = false, versions = [] } of entries.reverse()) {
    const { id } = await importPhoto(db, folder, decoders, path.join(demo, file), path.basename(file));
    await changePhoto(db, id, { name, caption, picked });
    ids.set(file, id);
    all.push({ id, versions });
  }
  for (const { id, versions } of all)
    for (const version of versions) {
      const given =
        'look' in version
          ? { ...(await lookOf(path.join(demo, version.look))), strokes: [] }
          : { ...version, stack: readStack(withPhotos(version.stack, ids)) };
      await addVersion(db, id, {
        name: given.name,
        steps: [{ words: 'As it came', stack: given.stack }],
        cursor: 0,
        strokes: given.strokes.map(named),
      });
    }
  return true;
}

/** A stack whose pictures name photos by their files, with the names that these have on the shelf. */
function withPhotos(stack: unknown, ids: ReadonlyMap<string, string>): unknown {
  return JSON.parse(JSON.stringify(stack), (key, value: unknown) =>
    key === 'photo' && typeof value === 'string' ? (ids.get(value) ?? value) : value,
  );
}

async function lookOf(file: string): Promise<{ name: string; stack: Stack }> {
  const { look, faults } = readLook(await fs.readFile(file, 'utf8'));
  if (!look) throw new Error(`${file}: ${JSON.stringify(faults[0])}`);
  return look;
}
