import { BexlenError, MOST_PAINTED, MOST_STROKES, namersOf, type NamedStroke, type Painted, type Stack } from '@bexlen/core';
import { json, type Db, type Tx } from './db';

/** How long strokes are kept that no version and no export names any more: a page that is offline may still want them. */
const KEPT_DAYS = 14;

/** What is written in one statement: so many strokes, of so many points together unless one alone has more. Between statements others get their turn. */
const AT_ONCE = { strokes: 100, points: 10_000 };

/** Rows as they are written, one piece after another. */
function pieces<Row extends { readonly stroke: { readonly trace: readonly number[] } }>(rows: readonly Row[]): Row[][] {
  const made: Row[][] = [];
  let points = Infinity;
  for (const row of rows) {
    const own = row.stroke.trace.length / 4;
    const last = made.at(-1);
    if (!last || points + own > AT_ONCE.points || last.length === AT_ONCE.strokes) {
      made.push([row]);
      points = own;
    } else {
      last.push(row);
      points += own;
    }
  }
  return made;
}

/** Keeps strokes, in their order; each must follow one that is kept or came before it. Throws `bad-version`, or `too-large` for more than can be painted, and keeps nothing. @param tx outside of a transaction each statement stands by itself, and others get their turn between them. */
export async function keepStrokes(tx: Tx, strokes: readonly NamedStroke[]): Promise<void> {
  const before = await sizesOf(
    tx,
    strokes.map(([, { after }]) => after),
  );
  const sizes = new Map([['', { place: 0, points: 0 }], ...before]);
  const rows = strokes.map(([name, { after, stroke }]) => {
    const last = sizes.get(after);
    if (!last) throw missing('A stroke follows one that is not kept here.');
    const size = { place: last.place + 1, points: last.points + stroke.trace.length / 4 };
    if (size.place > MOST_STROKES || size.points > MOST_PAINTED) throw tooMuch();
    sizes.set(name, size);
    return { name, after, stroke, ...size };
  });
  for (const piece of pieces(rows)) {
    await tx.query(
      `INSERT INTO strokes (name, after, stroke, place, points)
       SELECT name, after, stroke, place, points FROM jsonb_to_recordset($1::jsonb) AS r (name text, after text, stroke jsonb, place integer, points integer)
       ON CONFLICT (name) DO UPDATE SET kept_at = clock_timestamp()`,
      [json(piece)],
    );
    await new Promise((resolve) => setImmediate(resolve));
  }
}

/** How many strokes and points paintings have, by the names of their last strokes; of those that are kept. */
async function sizesOf(tx: Tx, names: readonly string[]): Promise<[string, { place: number; points: number }][]> {
  const { rows } = await tx.query<{ name: string; place: number; points: number }>('SELECT name, place, points FROM strokes WHERE name = ANY($1)', [
    [...new Set(names)],
  ]);
  return rows.map(({ name, place, points }) => [name, { place, points }]);
}

/** Refuses stacks that name strokes which nobody has; what versions name already may stay, so that those of which strokes were lost can be worked on. Throws `bad-version`. */
export async function checkPaintings(tx: Tx, stacks: readonly Stack[]): Promise<void> {
  const asked = new Map<string, string>();
  stacks.forEach((stack, i) => namersOf(stack.layers, 'painting').forEach(({ name }, painting) => asked.set(painting, `steps.${i}: “${name}”`)));
  const kept = new Set((await sizesOf(tx, [...asked.keys()])).map(([name]) => name));
  for (const [painting, where] of asked) {
    if (kept.has(painting)) continue;
    const { rows } = await tx.query('SELECT 1 FROM steps WHERE stack::text LIKE $1 LIMIT 1', [`%${painting}%`]);
    if (rows.length === 0) throw missing(`${where} names strokes that are not kept here.`);
  }
}

/** The strokes of a painting, the first one first; `missing` is the one before them that is lost. Throws `too-large` for more than can be painted. */
export async function paintingOf(db: Tx, name: string): Promise<{ strokes: readonly NamedStroke[]; missing?: string }> {
  const { rows } = await db.query<Painted & { name: string }>(
    `WITH RECURSIVE chain AS (
       SELECT name, after, stroke, 1 AS place FROM strokes WHERE name = $1
       UNION ALL
       SELECT s.name, s.after, s.stroke, c.place + 1 FROM strokes s JOIN chain c ON s.name = c.after WHERE c.place <= $2
     )
     SELECT name, after, stroke FROM chain ORDER BY place DESC`,
    [name, MOST_STROKES],
  );
  const points = rows.reduce((sum, { stroke }) => sum + stroke.trace.length / 4, 0);
  if (rows.length > MOST_STROKES || points > MOST_PAINTED) throw tooMuch();
  const lost = rows.length === 0 ? name : (rows[0] as Painted).after;
  return { strokes: rows.map(({ name: own, after, stroke }) => [own, { after, stroke }] as const), ...(lost !== '' && { missing: lost }) };
}

/** Removes strokes that neither a version nor an export has named for a while. Returns how many. */
export async function forgetStrokes(db: Db): Promise<number> {
  const { affectedRows = 0 } = await db.query(
    `WITH RECURSIVE named AS (
       SELECT DISTINCT (regexp_matches(stack::text, '"([0-9a-f]{32})"', 'g'))[1] AS name FROM (SELECT stack FROM steps UNION ALL SELECT stack FROM exports UNION ALL SELECT look FROM looks) AS all_stacks
     ), wanted AS (
       SELECT name FROM named
       UNION
       SELECT s.after FROM strokes s JOIN wanted w ON s.name = w.name
     )
     DELETE FROM strokes WHERE kept_at < clock_timestamp() - make_interval(days => $1) AND name NOT IN (SELECT name FROM wanted)`,
    [KEPT_DAYS],
  );
  return affectedRows;
}

const tooMuch = (): BexlenError =>
  new BexlenError('too-large', `This painting has more than ${MOST_STROKES} strokes or ${MOST_PAINTED} points.`, 'Paint on in another part.');

const missing = (message: string): BexlenError =>
  new BexlenError('bad-version', message, 'Nothing was changed. Send the strokes with the version that names them.');
