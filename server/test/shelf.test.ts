import fs from 'node:fs/promises';
import path from 'node:path';
import { emptyStack, newLayer } from '@bexlen/core';
import { FILTERS, shelfWish, SORTS, type Photo, type ShelfWish } from '@bexlen/api';
import { takeFolder, type Folder } from '../src/folder';
import { openDb, type OpenDb } from '../src/store/db';
import { shelfPage } from '../src/store/shelf';
import { databaseOf, laidOut, newFolder } from './server';

let at = '';
let folder: Folder;
let db: OpenDb;
beforeAll(async () => {
  at = await newFolder();
  folder = await takeFolder(await laidOut(path.join(at, 'data')));
  db = await openDb(await databaseOf(path.join(at, 'data')), path.join(import.meta.dirname, '../src/store/migrations'));
  await db.query("INSERT INTO rolls (id, name) VALUES ('r', 'Roll')");
  // Many that came and were taken at the same time, and are called the same.
  await db.query(
    `INSERT INTO photos (id, hash, name, caption, format, width, height, depth, alpha, bytes, imported_at, taken_at, picked, binned, roll_id)
     SELECT 'p' || i, md5(i::text), 'Name ' || (i % 7), CASE i % 5 WHEN 0 THEN 'half 50% of_it\\' WHEN 1 THEN 'HARBOUR Ä' ELSE '' END, 'jpeg', 6, 4, 8, false, 9,
            timestamptz '2026-01-01' + (i % 11) * interval '1.000001 second', CASE WHEN i % 3 = 0 THEN timestamptz '2020-01-01' + (i % 4) * interval '1 day' END,
            i % 4 = 0, i % 9 = 0, CASE WHEN i % 2 = 0 THEN 'r' END FROM generate_series(1, 130) i`,
  );
  const treated = JSON.stringify({ ...emptyStack, layers: [newLayer('tone', 'a')] });
  await db.query("INSERT INTO versions (id, photo_id, name, cursor) SELECT 'v' || i, 'p' || i, 'Version 1', 1 FROM generate_series(1, 130) i");
  await db.query(
    "INSERT INTO steps (version_id, place, words, stack) SELECT 'v' || i, 1, '', (CASE WHEN i % 6 = 0 THEN $1 ELSE $2 END)::jsonb FROM generate_series(1, 130) i",
    [treated, JSON.stringify(emptyStack)],
  );
});
afterAll(async () => {
  await db.close();
  await folder.release();
  await fs.rm(at, { recursive: true });
});

/** All pages of a sheet, one after another. */
async function pages(wish: Partial<ShelfWish>): Promise<Photo[]> {
  const all: Photo[] = [];
  let after: string | undefined;
  do {
    const page = await shelfPage(db, folder, { ...shelfWish.parse({ limit: 17 }), ...wish, after });
    expect(page.photos.length).toBeLessThanOrEqual(17);
    all.push(...page.photos);
    after = page.next ?? undefined;
  } while (after !== undefined);
  return all;
}

const isTreated = ({ versions }: Photo): boolean => versions.some(({ layers }) => layers > 0);
const taken = ({ takenAt, importedAt }: Photo): string => takenAt ?? importedAt;

it('of every sheet each photo is told once, in order, over all pages', async () => {
  const all = await pages({});
  expect(new Set(all.map(({ id }) => id)).size).toBe(130);
  for (const sort of SORTS)
    for (const filter of FILTERS)
      for (const [bin, roll, find] of [
        [undefined, undefined, ''],
        [false, 'r', 'name 3'],
        [true, undefined, ''],
        [false, undefined, 'harbour'],
      ] as const) {
        const told = await pages({ sort, filter, bin, roll, find });
        const want = all.filter(
          (photo) =>
            ({ all: true, picked: photo.picked, treated: isTreated(photo), plain: !isTreated(photo) })[filter] &&
            (bin === undefined || photo.binned === bin) &&
            (roll === undefined || photo.rollId === roll) &&
            `${photo.name} ${photo.caption}`.toLowerCase().includes(find),
        );
        expect(told.map(({ id }) => id).sort()).toEqual(want.map(({ id }) => id).sort());
        for (const [i, photo] of told.slice(1).entries()) {
          const [a, b] = {
            new: [photo.importedAt, told[i]?.importedAt],
            taken: [taken(photo), taken(told[i] as Photo)],
            name: [told[i]?.name, photo.name],
          }[sort];
          expect((a as string) <= (b as string)).toBe(true);
        }
      }
});

it.each(['50%', 'of_it', 'it\\', 'ä'])('what a search means is its characters: %s', async (find) => {
  const all = await pages({});
  const want = all.filter(({ name, caption }) => `${name} ${caption}`.toLowerCase().includes(find));
  expect((await pages({ find })).length).toBe(want.length);
  expect(want.length).toBeGreaterThan(0);
});

it('a page that nobody was given is refused', async () => {
  for (const after of ['nonsense', Buffer.from('["a"]').toString('base64url')])
    await expect(shelfPage(db, folder, { ...shelfWish.parse({}), after })).rejects.toMatchObject({ code: 'bad-request' });
});

it('what very many photos share is found in order too', async () => {
  await db.query(
    `INSERT INTO photos (id, hash, name, format, width, height, depth, alpha, bytes, imported_at)
     SELECT 'c' || i, md5('c' || i), 'Crowd ' || i, 'jpeg', 6, 4, 8, false, 9, timestamptz '2027-01-01' + i * interval '1 s' FROM generate_series(1, 2100) i`,
  );
  const { photos, next } = await shelfPage(db, folder, shelfWish.parse({ find: 'CROWD', limit: 3 }));
  expect(photos.map(({ name }) => name)).toEqual(['Crowd 2100', 'Crowd 2099', 'Crowd 2098']);
  expect(next).not.toBeNull();
  expect((await shelfPage(db, folder, shelfWish.parse({ find: 'crowd 210', limit: 3 }))).photos.map(({ name }) => name)).toEqual([
    'Crowd 2100',
    'Crowd 210',
  ]);
});
