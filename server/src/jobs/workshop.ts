import { Crew, type EngineFiles } from './crew';

/** How long a crew waits for the next job, and the largest memory it may hold while it does. */
const PATIENCE_MS = 15_000;
const MOST_BYTES = 600e6;

/**
 * Where crews come from and go to. One that has just worked is kept for the next job: its threads are awake, its memory is laid out, its
 * code is warm. After a while, or if its memory has grown large, it is dismissed.
 */
export class Workshop {
  private resting: Crew | undefined;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly files: EngineFiles,
    readonly hands: number,
  ) {}

  async hire(): Promise<Crew> {
    clearTimeout(this.timer);
    const crew = this.resting;
    this.resting = undefined;
    if (crew?.fit) return crew;
    await crew?.dismiss();
    return Crew.hire(this.files, this.hands);
  }

  /** Takes a crew back that has done its work. */
  async takeBack(crew: Crew): Promise<void> {
    if (this.resting || crew.memoryBytes > MOST_BYTES) return crew.dismiss();
    this.resting = crew;
    this.timer = setTimeout(() => void this.close(), PATIENCE_MS).unref();
  }

  /** Sends everybody home. */
  async close(): Promise<void> {
    clearTimeout(this.timer);
    const crew = this.resting;
    this.resting = undefined;
    await crew?.dismiss();
  }
}
