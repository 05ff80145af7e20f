import { z } from 'zod';
import { BexlenError } from '@bexlen/core';
import type { Filter, ShelfPage, ShelfWish, Sort } from '@bexlen/api';
import type { Folder } from '../folder';
import type { Tx } from './db';
import { isWhole } from './originals';
import { present, versionsByPhoto, type PhotoRow } from './photos';

/** What each order goes by, what that is in a table, and which way; photos of the same go by their names. */
const ORDERS: Record<Sort, { readonly by: string; readonly type: string; readonly way: 'ASC' | 'DESC' }> = {
  new: { by: 'imported_at', type: 'timestamptz', way: 'DESC' },
  taken: { by: 'coalesce(taken_at, imported_at)', type: 'timestamptz', way: 'DESC' },
  name: { by: 'lower(name)', type: 'text', way: 'ASC' },
};

const TREATED = `EXISTS (SELECT 1 FROM versions v JOIN steps s ON s.version_id = v.id AND s.place = v.cursor
  WHERE v.photo_id = photos.id AND jsonb_array_length(s.stack -> 'layers') > 0)`;
const PASSES: Record<Filter, string> = { all: 'true', picked: 'picked', treated: TREATED, plain: `NOT ${TREATED}` };

const ended = z.tuple([z.string(), z.string()]);

/** Photos in an order, with their versions, from where the page before ended. @throws {BexlenError} `bad-request` where `after` is not from a page. */
export async function shelfPage(db: Tx, folder: Folder, wish: ShelfWish): Promise<ShelfPage> {
  const { text, params } = pageQuery(wish, await fewWith(db, wish.find));
  const { rows } = await db.query<PhotoRow & { stands_at: string }>(text, params);
  const found = rows.slice(0, wish.limit);
  const versions = await versionsByPhoto(
    db,
    found.map(({ id }) => id),
  );
  const there = await Promise.all(found.map((row) => isWhole(folder, row)));
  const read = found.flatMap(({ stands_at: _at, ...row }, i) => {
    try {
      return [present(row, versions.get(row.id) ?? [], !there[i])];
    } catch {
      // It is counted below.
      return [];
    }
  });
  const last = found.at(-1);
  const next = last && rows.length > found.length ? Buffer.from(JSON.stringify([last.stands_at, last.id])).toString('base64url') : null;
  return { photos: read, unread: found.length - read.length, next };
}

const WORDS = "lower(name || ' ' || caption)";
/** So many photos that are found are put in order at once; of more, the order is gone through until a page is full. */
const FEW = 2000;
/** Groups of three characters are what words are found by. */
const LEAST_WORD = 3;

/** A search as a pattern of LIKE that means its characters. */
const patternOf = (find: string): string => `%${find.replace(/[\\%_]/g, '\\$&')}%`;

/** The photos that a search finds, where those are few: whoever plans statements cannot know that beforehand. */
async function fewWith(db: Tx, find: string): Promise<readonly string[] | undefined> {
  if (find.length < LEAST_WORD) return undefined;
  const { rows } = await db.query<{ id: string }>(`SELECT id FROM photos WHERE ${WORDS} LIKE lower($1::text) LIMIT ${FEW + 1}`, [patternOf(find)]);
  return rows.length > FEW ? undefined : rows.map(({ id }) => id);
}

/** The statement for a page, and one photo more, by which it is known whether there is a next one. */
function pageQuery(
  { sort, filter, bin, roll, find, after, limit }: ShelfWish,
  few: readonly string[] | undefined,
): { readonly text: string; readonly params: unknown[] } {
  const { by, type, way } = ORDERS[sort];
  const params: unknown[] = [];
  const given = (value: unknown): string => `$${params.push(value)}`;
  const wanted = [PASSES[filter]];
  if (bin !== undefined) wanted.push(`binned = ${given(bin)}`);
  if (roll !== undefined) wanted.push(`roll_id = ${given(roll)}`);
  if (few) wanted.push(`id = ANY(${given(few)})`);
  else if (find !== '') wanted.push(`${WORDS} LIKE lower(${given(patternOf(find))}::text)`);
  if (after !== undefined) {
    const [at, id] = readAfter(after);
    wanted.push(`(${by}, id) ${way === 'ASC' ? '>' : '<'} (${given(at)}::${type}, ${given(id)}::text)`);
  }
  const text = `SELECT *, ${by}::text AS stands_at FROM photos WHERE ${wanted.join(' AND ')} ORDER BY ${by} ${way}, id ${way} LIMIT ${given(limit + 1)}`;
  return { text, params };
}

function readAfter(after: string): [string, string] {
  try {
    return ended.parse(JSON.parse(Buffer.from(after, 'base64url').toString()));
  } catch {
    throw new BexlenError('bad-request', 'No page of the shelf ends there.', 'Begin with the first page.');
  }
}
