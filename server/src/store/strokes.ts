import { BexlenError, MOST_PAINTED, MOST_STROKES, nameOf, paintingsOfStack, type Painted, type Stack } from '@bexlen/core';
import type { Db, Tx } from './db';

/** How long strokes are kept that no version and no export names any more: a page that is offline may still want them. */
const KEPT_DAYS = 14;

/** Keeps strokes, in their order; each must follow one that is kept. Throws `bad-version` and keeps nothing. */
export async function keepStrokes(tx: Tx, strokes: readonly Painted[]): Promise<void> {
  for (const painted of strokes) {
    const { after, stroke } = painted;
    if (after !== '' && !(await isKept(tx, after))) throw missing('A stroke follows one that is not kept here.');
    const name = nameOf(painted);
    await tx.query('INSERT INTO strokes (name, after, stroke) VALUES ($1, $2, $3) ON CONFLICT (name) DO UPDATE SET kept_at = clock_timestamp()', [
      name,
      after,
      stroke,
    ]);
  }
}

/** Refuses stacks that name strokes which nobody has; what versions name already may stay, so that those of which strokes were lost can be worked on. Throws `bad-version`. */
export async function checkPaintings(tx: Tx, stacks: readonly Stack[]): Promise<void> {
  const asked = new Map<string, string>();
  stacks.forEach((stack, i) => paintingsOfStack(stack).forEach(({ name }, painting) => asked.set(painting, `steps.${i}: “${name}”`)));
  for (const [painting, where] of asked) {
    if (await isKept(tx, painting)) continue;
    const { rows } = await tx.query('SELECT 1 FROM steps WHERE stack::text LIKE $1 LIMIT 1', [`%${painting}%`]);
    if (rows.length === 0) throw missing(`${where} names strokes that are not kept here.`);
  }
}

/** The strokes of a painting, the first one first; `missing` is the one before them that is lost. Throws `too-large` for more than can be painted. */
export async function paintingOf(db: Tx, name: string): Promise<{ strokes: Painted[]; missing?: string }> {
  const { rows } = await db.query<Painted>(
    `WITH RECURSIVE chain AS (
       SELECT after, stroke, 1 AS place FROM strokes WHERE name = $1
       UNION ALL
       SELECT s.after, s.stroke, c.place + 1 FROM strokes s JOIN chain c ON s.name = c.after WHERE c.place <= $2
     )
     SELECT after, stroke FROM chain ORDER BY place DESC`,
    [name, MOST_STROKES],
  );
  const points = rows.reduce((sum, { stroke }) => sum + stroke.trace.length / 4, 0);
  if (rows.length > MOST_STROKES || points > MOST_PAINTED)
    throw new BexlenError('too-large', `This painting has more than ${MOST_STROKES} strokes or ${MOST_PAINTED} points.`, 'Paint on in another part.');
  const lost = rows.length === 0 ? name : (rows[0] as Painted).after;
  return { strokes: rows, ...(lost !== '' && { missing: lost }) };
}

/** Removes strokes that neither a version nor an export has named for a while. Returns how many. */
export async function forgetStrokes(db: Db): Promise<number> {
  const { affectedRows = 0 } = await db.query(
    `WITH RECURSIVE named AS (
       SELECT DISTINCT (regexp_matches(stack::text, '"strokes": *"([0-9a-f]{32})"', 'g'))[1] AS name FROM (SELECT stack FROM steps UNION ALL SELECT stack FROM exports UNION ALL SELECT look FROM looks) AS all_stacks
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

async function isKept(tx: Tx, name: string): Promise<boolean> {
  return (await tx.query('SELECT 1 FROM strokes WHERE name = $1', [name])).rows.length > 0;
}

const missing = (message: string): BexlenError =>
  new BexlenError('bad-version', message, 'Nothing was changed. Send the strokes with the version that names them.');
