import { randomUUID } from 'node:crypto';
import type { NewsName, Told } from '@bexlen/api';
import type { Log } from '../log';
import type { OpenDb } from '../store/db';

const CHANNEL = 'bexlen';
/** What a notification may hold (PostgreSQL, NOTIFY: less than 8000 bytes). */
const MOST_BYTES = 7800;

/** What processes on the same tables tell each other. */
export type Notice =
  | { readonly of: 'page'; readonly name: NewsName; readonly what: Told<NewsName> }
  /** Something has become of a file, or it has come so far, from 0 to 1. */
  | { readonly of: 'export'; readonly id: string; readonly progress: number }
  /** There is something to make. */
  | { readonly of: 'work' }
  | { readonly of: 'cancelled'; readonly ids: readonly string[] }
  /** A small picture is among the objects under this name, or could not be made. */
  | { readonly of: 'thumb'; readonly key: string; readonly made: boolean }
  /** A device was sent away. */
  | { readonly of: 'left'; readonly device: string }
  /** Something may have been told that did not come through. */
  | { readonly of: 'missed' };
type Of<N extends Notice['of']> = Extract<Notice, { of: N }>;

/** Where the processes of a house tell each other what has changed: heard at once in the one that tells it, and in the others as soon as the database has passed it on. */
export class Bulletin {
  private readonly ears: ((notice: Notice) => void)[] = [];
  private readonly from = randomUUID();
  /** Notices go out in the order in which they were said. */
  private last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly db: OpenDb,
    private readonly log: Log,
  ) {}

  async begin(): Promise<void> {
    await this.db.listen(
      CHANNEL,
      (text) => {
        const { from, notice } = JSON.parse(text) as { from: string; notice: Notice };
        if (from !== this.from) this.tell(notice);
      },
      () => this.tell({ of: 'missed' }),
    );
  }

  say(notice: Notice): void {
    this.tell(notice);
    if (!this.db.shared) return;
    const text = JSON.stringify({ from: this.from, notice });
    const fits = Buffer.byteLength(text) <= MOST_BYTES;
    this.last = this.last
      .then(() => this.db.notify(CHANNEL, fits ? text : JSON.stringify({ from: this.from, notice: { of: 'missed' } })))
      .catch((error: unknown) => this.log.warn({ err: error }, 'the other processes could not be told'));
  }

  hear<N extends Notice['of']>(of: N, act: (notice: Of<N>) => void): void {
    this.ears.push((notice) => {
      if (notice.of === of) act(notice as Of<N>);
    });
  }

  private tell(notice: Notice): void {
    for (const ear of this.ears) ear(notice);
  }
}
