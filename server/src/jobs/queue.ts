import PgBoss from 'pg-boss';
import { v7 as orderedId } from 'uuid';
import type { Log } from '../log';
import type { Answer, OpenDb, Tx } from '../store/db';

const NAME = 'exports';
const THUMBS = 'thumbs';
/** A small picture that was taken and not made is somebody else's after so long. */
const MOST_THUMB_SECONDS = 60;
/** How long a file may take, before it is given up. */
export const MOST_SECONDS = 1800;
/** Of jobs that are over, the rows are kept for so long. */
const KEPT_SECONDS = 3600;

/** How soon a job is taken: what was begun already and lost with its machine before all, what somebody waits for before what was ordered by the dozen. */
export const PRIORITY = { lost: 20, alone: 10, sheet: 5, batch: 0 } as const;

/** A job as it is taken. */
export interface Taken {
  readonly job: string;
  readonly exportId: string;
}

/** A small picture of a version at a revision, of the photo of a hash. */
export interface ThumbJob {
  readonly hash: string;
  readonly versionId: string;
  readonly revision: number;
}

/** A job that is to be entered. */
export interface Order {
  readonly exportId: string;
  readonly priority: number;
}

/** The queue of files that are to be made, in the same database as what they are made of: jobs come and go in the same transactions as what is told of them. */
export class Queue {
  private constructor(private readonly boss: PgBoss) {}

  static async open(db: OpenDb, log: Log): Promise<Queue> {
    const boss = new PgBoss({ db: sqlOf(db, db.run.bind(db)), schedule: false, archiveCompletedAfterSeconds: 60, deleteAfterSeconds: KEPT_SECONDS });
    boss.on('error', (error) => log.warn({ err: error }, 'the queue could not be looked after'));
    await db.alone(async () => {
      await boss.start();
      await boss.createQueue(NAME, { name: NAME, expireInSeconds: MOST_SECONDS, retryLimit: 0 });
      await boss.createQueue(THUMBS, { name: THUMBS, expireInSeconds: MOST_THUMB_SECONDS, retryLimit: 0 });
      // In the order in which they are taken: without it all that wait would be put in order each time.
      await db.run("CREATE INDEX IF NOT EXISTS job_next ON pgboss.job (name, priority DESC, created_on, id) WHERE state < 'active'");
    });
    return new Queue(boss);
  }

  /** Enters jobs, to be taken in this order where their priority is the same. Returns their names. */
  async enter(tx: Tx, orders: readonly Order[]): Promise<string[]> {
    const jobs = orders.map(({ exportId, priority }) => ({ id: orderedId(), name: NAME, data: { exportId }, priority }));
    await this.boss.insert(jobs, { db: sqlOf(tx) });
    return jobs.map(({ id }) => id);
  }

  /** Enters a job that may be taken after so many seconds, by the clock of the database. Returns its name. */
  async enterLater(tx: Tx, { exportId, priority }: Order, seconds: number): Promise<string> {
    const id = orderedId();
    await this.boss.send(NAME, { exportId }, { id, priority, startAfter: seconds, db: sqlOf(tx) });
    return id;
  }

  /** Takes the next job, which nobody else is given; undefined where none waits. */
  async take(): Promise<Taken | undefined> {
    const [job] = await this.boss.fetch<{ exportId: string }>(NAME);
    return job && { job: job.id, exportId: job.data.exportId };
  }

  /** A job is over, whatever came of it. */
  async over(tx: Tx, job: string): Promise<void> {
    await this.boss.deleteJob(NAME, job, { db: sqlOf(tx) });
  }

  /** Enters a small picture that somebody waits for. Returns the job's name. */
  async enterThumb(tx: Tx, thumb: ThumbJob): Promise<string> {
    const id = orderedId();
    await this.boss.send(THUMBS, thumb, { id, db: sqlOf(tx) });
    return id;
  }

  /** Takes the next small picture; undefined where none is wanted. Its job goes when whoever wanted it has it. */
  async takeThumb(): Promise<ThumbJob | undefined> {
    const [job] = await this.boss.fetch<ThumbJob>(THUMBS);
    return job?.data;
  }

  async thumbOver(tx: Tx, job: string): Promise<void> {
    await this.boss.deleteJob(THUMBS, job, { db: sqlOf(tx) });
  }

  close(): Promise<void> {
    return this.boss.stop({ graceful: false });
  }
}

/** The database as the queue speaks to it. Its own changes of tables come as several statements without parameters. */
const sqlOf = (tx: Tx, run?: (sql: string) => Promise<Answer<Record<string, unknown>>>): PgBoss.Db => ({
  executeSql: async (text: string, values: unknown[] = []) => {
    const { rows, affectedRows } = values.length === 0 && run ? await run(text) : await tx.query(text, values);
    return { rows, rowCount: affectedRows };
  },
});
