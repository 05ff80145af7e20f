import { Pool, type EngineFiles } from './pool';

/** How long a pool waits for the next job, and the largest memory it may hold while it does. */
const PATIENCE_MS = 15_000;
const MOST_BYTES = 600e6;

/**
 * Where pools come from and go to. One that has just worked is kept for the next job: its threads are awake, its memory is laid out, its
 * code is warm. After a while, or if its memory has grown large, it is dismissed.
 */
export class Workshop {
  private resting: Pool | undefined;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly files: EngineFiles,
    readonly workers: number,
    /** How far its threads stand behind others of this machine, 0..19. */
    private readonly niceness = 0,
  ) {}

  async hire(): Promise<Pool> {
    clearTimeout(this.timer);
    const pool = this.resting;
    this.resting = undefined;
    if (pool?.fit) return pool;
    await pool?.dismiss();
    return Pool.hire(this.files, this.workers, this.niceness);
  }

  /** Takes a pool back that has done its work. */
  async takeBack(pool: Pool): Promise<void> {
    if (this.resting || pool.memoryBytes > MOST_BYTES) return pool.dismiss();
    this.resting = pool;
    this.timer = setTimeout(() => {
      // Hands that cannot be sent home go with the process.
      this.close().catch(() => undefined);
    }, PATIENCE_MS).unref();
  }

  /** Sends everybody home. */
  async close(): Promise<void> {
    clearTimeout(this.timer);
    const pool = this.resting;
    this.resting = undefined;
    await pool?.dismiss();
  }
}
