import type { ExportJob, Fault } from '@bexlen/api';
import { PRIORITY, type Queue, type Taken } from '../jobs/queue';
import { json, type Db, type Tx } from './db';

/** What becomes of exports while they are made. A row says what there is to tell, its job in the queue who makes it: both change in one piece, and only by the name of the job that it has now. */

/** An export that was entered, as far as its job is about it. */
export interface Entered {
  readonly id: string;
  readonly format: ExportJob['format'];
  readonly batch: string | null;
  /** So often it was begun, and its machine was lost. */
  readonly interrupted?: number;
}
const priorityOf = ({ format, batch, interrupted = 0 }: Entered): number =>
  interrupted > 0 ? PRIORITY.lost : format === 'pdf' ? PRIORITY.sheet : batch === null ? PRIORITY.alone : PRIORITY.batch;

/** Has files made: each under a new job, whatever one it had. */
export async function order(tx: Tx, queue: Queue, entries: readonly Entered[]): Promise<void> {
  const jobs = await queue.enter(
    tx,
    entries.map((entry) => ({ exportId: entry.id, priority: priorityOf(entry) })),
  );
  for (const [i, { id }] of entries.entries()) await tx.query('UPDATE exports SET job = $2 WHERE id = $1', [id, jobs[i]]);
}

/** What came of an export. */
export interface Outcome {
  readonly bytes?: number;
  readonly tookMs?: number;
  readonly fault?: Fault;
  readonly notes?: readonly string[];
  /** The name of the finished file among the objects. */
  readonly file?: string;
}

/**
 * A machine begins with a job. False where that is not what is wanted any more: it was cancelled, or another one has it. Said once more by the same machine, whose connection
 * was cut before it heard the answer, it is the same.
 */
export async function claim(db: Tx, { exportId, job }: Taken, machine: string): Promise<boolean> {
  const { affectedRows } = await db.query(
    `UPDATE exports SET state = 'working', machine = $3
     WHERE id = $1 AND job = $2 AND (state = 'waiting' OR (state = 'working' AND machine = $3))`,
    [exportId, job, machine],
  );
  return affectedRows > 0;
}

/** Whether a machine is still to go on with a job. */
export async function isWanted(db: Tx, { exportId, job }: Taken): Promise<boolean> {
  return (await db.query("SELECT 1 FROM exports WHERE id = $1 AND job = $2 AND state = 'working'", [exportId, job])).rows.length > 0;
}

/** Says what came of a job, and ends it, in one piece. False where it is not this job's to say any more; then nothing is changed but that the job is over. */
export function settle(
  db: Db,
  queue: Queue,
  taken: Taken,
  state: 'done' | 'failed',
  { bytes, tookMs, fault, notes, file }: Outcome,
): Promise<boolean> {
  return db.transaction(async (tx) => {
    const { rows } = await tx.query<{ machine: string | null }>(
      `UPDATE exports SET state = $3, bytes = $4, took_ms = $5, fault = $6, notes = $7, file = $8, interrupted = 0, tries = 0, ended_at = now()
       WHERE id = $1 AND job = $2 AND state = 'working' RETURNING machine`,
      [taken.exportId, taken.job, state, bytes ?? null, tookMs ?? null, fault ?? null, json(notes ?? []), file ?? null],
    );
    await queue.over(tx, taken.job);
    if (state === 'done' && rows[0]) await tx.query('UPDATE machines SET made = made + 1 WHERE id = $1', [rows[0].machine]);
    if (rows.length > 0) return true;
    // It may have been said before, by a connection that was cut before the answer came.
    const same = 'SELECT 1 FROM exports WHERE id = $1 AND job = $2 AND state = $3 AND file IS NOT DISTINCT FROM $4';
    return (await tx.query(same, [taken.exportId, taken.job, state, file ?? null])).rows.length > 0;
  });
}

/** So often a file is tried again of which the store or the database did not do its part, each time after twice as many seconds. */
const MOST_TRIES = 6;
const FIRST_REST_SECONDS = 2;

/** Gives a job back, to be taken by any machine: at once, or after a rest that grows. False where it has been tried too often, or is not this job's to give. */
export function giveBack(db: Db, queue: Queue, { exportId, job }: Taken, rest: boolean): Promise<boolean> {
  return db.transaction(async (tx) => {
    const { rows } = await tx.query<Entered & { tries: number }>(
      `UPDATE exports SET state = 'waiting', machine = NULL, tries = tries + $3
       WHERE id = $1 AND job = $2 AND state = 'working' AND tries + $3 < $4 RETURNING id, format, batch, tries`,
      [exportId, job, rest ? 1 : 0, MOST_TRIES],
    );
    const [entry] = rows;
    if (!entry) return false;
    await queue.over(tx, job);
    if (!rest) await order(tx, queue, [entry]);
    else {
      const later = await queue.enterLater(tx, { exportId, priority: priorityOf(entry) }, FIRST_REST_SECONDS * 2 ** (entry.tries - 1));
      await tx.query('UPDATE exports SET job = $2 WHERE id = $1', [exportId, later]);
    }
    return true;
  });
}

/** How often the one process that makes files may end while one is made, before that is taken for the file's fault; and, where there are many, how often the machine may be lost that makes one. */
const MOST_INTERRUPTED = 2;
const MOST_LOST = 6;

interface Recovered {
  readonly exportId: string;
  readonly format: ExportJob['format'];
  readonly job: string | null;
}

/**
 * Has made what nobody is making: jobs of machines that are silent, and what waits without a job, as after an update. What was interrupted too often is set aside as
 * failed. Returns the files that something has become of, with the jobs that they had, whose files are nobody's.
 * @param alone whether nobody else makes files, so that what is called being made is not.
 * @param silentSeconds a machine that was not seen for so long is silent.
 */
export function recover(db: Db, queue: Queue, alone: boolean, silentSeconds: number): Promise<Recovered[]> {
  const most = alone ? MOST_INTERRUPTED : MOST_LOST;
  const fault: Fault = {
    code: 'internal',
    message: alone ? 'The server ended twice while this file was being made.' : `${MOST_LOST} machines were lost while this file was being made.`,
    hint: 'Look at its layers and its photo, then start it again.',
  };
  return db.transaction(async (tx) => {
    const { rows } = await tx.query<Entered & { state: ExportJob['state']; job: string | null }>(
      `UPDATE exports e SET
         interrupted = CASE WHEN e.state = 'working' THEN interrupted + 1 ELSE interrupted END,
         state = CASE WHEN e.state = 'working' AND interrupted + 1 >= $1 THEN 'failed' ELSE 'waiting' END,
         fault = CASE WHEN e.state = 'working' AND interrupted + 1 >= $1 THEN $2::jsonb ELSE NULL END,
         machine = NULL
       WHERE e.id IN (
         SELECT o.id FROM exports o WHERE (o.state = 'waiting' AND o.job IS NULL)
           OR (o.state = 'working' AND ($3 OR NOT EXISTS
             (SELECT 1 FROM machines m WHERE m.id = o.machine AND m.seen_at > now() - make_interval(secs => $4))))
           OR (o.state = 'waiting' AND o.job = ANY(SELECT j.id FROM pgboss.job j
             WHERE j.name = 'exports' AND j.state IN ('active', 'failed') AND ($3 OR j.started_on < now() - make_interval(secs => $4))))
         FOR UPDATE SKIP LOCKED)
       RETURNING e.id, e.format, e.batch, e.interrupted, e.state, e.job`,
      [most, fault, alone, silentSeconds],
    );
    for (const { job } of rows) if (job !== null) await queue.over(tx, job);
    const again = rows.filter(({ state }) => state === 'waiting');
    if (again.length > 0) await order(tx, queue, again);
    return rows.map(({ id, format, job }) => ({ exportId: id, format, job }));
  });
}

/** Takes files off the list of what is to be made; what is being made is broken off by who makes it. Returns those of which that was so. */
export function cancelExports(db: Db, queue: Queue, ids: readonly string[]): Promise<string[]> {
  return db.transaction(async (tx) => {
    const { rows } = await tx.query<{ id: string; job: string | null }>(
      `UPDATE exports SET state = 'cancelled', machine = NULL, interrupted = 0, tries = 0
       WHERE id = ANY($1::text[]) AND state IN ('waiting', 'working') RETURNING id, job`,
      [ids],
    );
    for (const { job } of rows) if (job !== null) await queue.over(tx, job);
    return rows.map(({ id }) => id);
  });
}

/** Has files made that are over. Those that are on their way are left as they are. Returns those of which that was so. */
export function orderAgain(db: Db, queue: Queue, ids: readonly string[], from: readonly ExportJob['state'][]): Promise<string[]> {
  return db.transaction(async (tx) => {
    const { rows } = await tx.query<Entered>(
      `UPDATE exports SET state = 'waiting', bytes = NULL, took_ms = NULL, fault = NULL, notes = '[]', machine = NULL, interrupted = 0, tries = 0
       WHERE id = ANY($1::text[]) AND state = ANY($2::text[]) RETURNING id, format, batch`,
      [ids, from],
    );
    const inOrder = ids.flatMap((id) => rows.filter((row) => row.id === id));
    if (inOrder.length > 0) await order(tx, queue, inOrder);
    return inOrder.map(({ id }) => id);
  });
}
