import type { Machine } from '@bexlen/api';
import type { Tx } from './db';

/** A machine that was not seen for so long is forgotten. */
const FORGOTTEN = '10 minutes';

/** Who makes files. */
export interface Maker {
  readonly id: string;
  readonly name: string;
  readonly threads: number;
}

/** A machine says that it is there. All times are the database's, whatever its own clock says. */
export async function seen(tx: Tx, { id, name, threads }: Maker): Promise<void> {
  await tx.query(
    'INSERT INTO machines (id, name, threads) VALUES ($1, $2, $3) ON CONFLICT (id) DO UPDATE SET seen_at = now(), name = $2, threads = $3',
    [id, name, threads],
  );
  await tx.query(`DELETE FROM machines WHERE seen_at < now() - interval '${FORGOTTEN}'`);
}

/** Those that an earlier process of a house of one has left. */
export async function forgetMachines(tx: Tx): Promise<void> {
  await tx.query('DELETE FROM machines');
}

export async function left(tx: Tx, id: string): Promise<void> {
  await tx.query('DELETE FROM machines WHERE id = $1', [id]);
}

interface Row {
  readonly id: string;
  readonly name: string;
  readonly threads: number;
  readonly made: number;
  readonly silent: boolean;
  readonly doing: string | null;
  readonly per_minute: number;
}

/**
 * All that make files or did lately, with what each is making, and how many it made in the last five minutes, by the minute.
 * @param alone whether there is one only, which need not say that it is there.
 * @param silentSeconds a machine that was not seen for so long is silent.
 */
export async function allMachines(db: Tx, alone: boolean, silentSeconds: number): Promise<Machine[]> {
  const { rows } = await db.query<Row>(
    `SELECT m.id, m.name, m.threads, m.made, $2 AND m.seen_at < now() - make_interval(secs => $1) AS silent,
       (SELECT e.file_name FROM exports e WHERE e.machine = m.id AND e.state = 'working' LIMIT 1) AS doing,
       (SELECT count(*) FROM exports e WHERE e.machine = m.id AND e.state = 'done' AND e.ended_at > now() - interval '5 minutes')
         / greatest(0.1, least(5, extract(epoch FROM now() - m.began_at) / 60))::float AS per_minute
     FROM machines m ORDER BY m.began_at`,
    [silentSeconds, !alone],
  );
  return rows.map(({ per_minute, ...machine }) => ({ ...machine, perMinute: Number(per_minute) }));
}

/** Whether a machine of several makes files that is not silent. @param silentSeconds a machine that was not seen for so long is silent. */
export async function anyAtWork(db: Tx, silentSeconds: number): Promise<boolean> {
  const { rows } = await db.query('SELECT 1 FROM machines WHERE seen_at > now() - make_interval(secs => $1) LIMIT 1', [silentSeconds]);
  return rows.length > 0;
}
