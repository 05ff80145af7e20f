import type { ExportJob } from '@bexlen/api';
import type { Db } from '../store/db';
import { allExports, exportById, removeExport, setState, waitingExports, type Outcome } from '../store/exports';

interface Unkept {
  readonly state: ExportJob['state'];
  readonly outcome: Outcome;
}

/**
 * What has become of exports. What the database does not take, as on a full disk, is remembered here and told as if it were kept, until it takes it: the queue goes
 * on whatever happens there.
 */
export class ExportStates {
  private readonly unkept = new Map<string, Unkept>();

  constructor(private readonly db: Db) {}

  async all(): Promise<ExportJob[]> {
    return (await allExports(this.db)).map(this.asItIs);
  }

  /** One of them. Throws `not-found`. */
  async one(id: string): Promise<ExportJob> {
    return this.asItIs(await exportById(this.db, id));
  }

  /** The oldest that waits; undefined if none does. */
  async next(): Promise<string | undefined> {
    const waiting = (await waitingExports(this.db)).filter((id) => (this.unkept.get(id)?.state ?? 'waiting') === 'waiting');
    return waiting[0] ?? [...this.unkept].find(([, { state }]) => state === 'waiting')?.[0];
  }

  async set(id: string, state: ExportJob['state'], outcome: Outcome = {}): Promise<void> {
    this.unkept.delete(id);
    try {
      await setState(this.db, id, state, outcome);
    } catch {
      // As on a full disk; it is tried again by `keep`.
      this.unkept.set(id, { state, outcome });
    }
  }

  async remove(id: string): Promise<void> {
    await removeExport(this.db, id);
    this.unkept.delete(id);
  }

  /** Tries again to keep what could not be kept. Returns whether all is kept. */
  async keep(): Promise<boolean> {
    for (const [id, { state, outcome }] of [...this.unkept]) await this.set(id, state, outcome);
    return this.unkept.size === 0;
  }

  private readonly asItIs = (job: ExportJob): ExportJob => {
    const now = this.unkept.get(job.id);
    if (!now) return job;
    const { state, outcome } = now;
    const { bytes = null, tookMs = null, fault = null, notes = [] } = outcome;
    return { ...job, state, bytes, tookMs, fault, notes: [...notes], progress: state === 'done' ? 1 : 0 };
  };
}
