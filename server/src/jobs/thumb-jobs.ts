import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as rest } from 'node:timers/promises';
import type { Folder } from '../folder';
import type { House } from '../house';
import { anyAtWork } from '../store/machines';
import type { ThumbJob } from './queue';
import type { Thumbs } from './thumbs';

/** A small picture that nobody has made after so long is made by whoever wants it. */
const PATIENCE_MS = 4000;
/** For so long after that nobody is asked: all darkrooms have more than they can do. */
const ALONE_MS = 20_000;
/** How often to look for small pictures that nobody has told of. */
const LOOK_MS = 1000;

/** The small pictures of a version among the objects, one for each revision that was looked at. */
const thumbsOf = ({ hash, versionId }: ThumbJob): string => `thumbs/${hash}/${versionId}`;
const thumbKey = (job: ThumbJob): string => `${thumbsOf(job)}/${job.revision}.jpg`;

/** Small pictures as they are wanted where other machines make them. */
export class OthersThumbs {
  private readonly told = new Map<string, (made: boolean) => void>();
  private aloneUntil = 0;

  constructor(private readonly house: House) {
    house.bulletin.hear('thumb', ({ key, made }) => {
      this.aloneUntil = 0;
      this.told.get(key)?.(made);
    });
  }

  /** A file of this machine with a small picture, made by another one unless it is there; undefined where none has made it in time, or has failed. */
  async of(thumb: ThumbJob, signal: AbortSignal): Promise<string | undefined> {
    const { db, queue, bulletin, folder, silentSeconds } = this.house;
    const key = thumbKey(thumb);
    const there = await folder.objects.file(key).catch(() => undefined);
    if (there !== undefined) return there;
    if (performance.now() < this.aloneUntil || !(await anyAtWork(db, silentSeconds))) return undefined;
    const done = new Promise<boolean>((resolve) => this.told.set(key, resolve));
    const job = await queue.enterThumb(db, thumb);
    try {
      bulletin.say({ of: 'work' });
      const made = await Promise.race([done, rest(PATIENCE_MS, undefined, { signal, ref: false })]);
      if (made === undefined) this.aloneUntil = performance.now() + ALONE_MS;
      return made ? await folder.objects.file(key) : undefined;
    } finally {
      this.told.delete(key);
      // Nobody needs to make it any more; who is about to is not in the way.
      await queue.thumbOver(db, job);
    }
  }
}

/** Makes the small pictures that others want, one after another, beside the files that are made. */
export class ThumbMaker {
  private readonly closing = new AbortController();
  private wake: () => void = () => undefined;
  private working: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly house: House,
    private readonly thumbs: Thumbs,
  ) {
    house.bulletin.hear('work', () => this.wake());
    house.bulletin.hear('missed', () => this.wake());
  }

  begin(): void {
    this.working = this.work();
  }

  async close(): Promise<void> {
    this.closing.abort();
    this.wake();
    await this.thumbs.close();
    await this.working;
  }

  private async work(): Promise<void> {
    const { queue, log } = this.house;
    while (!this.closing.signal.aborted) {
      const woken = new Promise<void>((resolve) => (this.wake = resolve));
      const thumb = await queue.takeThumb().catch((error: unknown) => log.error({ err: error }, 'the queue of small pictures could not be read'));
      if (thumb) await this.make(thumb);
      else await Promise.race([woken, rest(LOOK_MS, undefined, { ref: false })]);
    }
  }

  private async make(thumb: ThumbJob): Promise<void> {
    const { bulletin, folder, log } = this.house;
    const key = thumbKey(thumb);
    try {
      const { file, revision } = await this.thumbs.of(thumb.versionId);
      // Of one that was changed meanwhile, the newer one is as welcome.
      const copy = path.join(folder.unfinished, `thumb-copy-${randomUUID()}`);
      try {
        await fs.copyFile(file, copy);
        await folder.objects.keep(key, copy);
      } finally {
        await fs.rm(copy, { force: true });
      }
      bulletin.say({ of: 'thumb', key, made: true });
      await forgetBefore(folder, thumb, revision);
    } catch (error) {
      // Who wants it makes it, and finds out what stands against it.
      log.warn({ err: error, version: thumb.versionId }, 'a small picture could not be made for another machine');
      bulletin.say({ of: 'thumb', key, made: false });
    }
  }
}

/** Removes the pictures of earlier revisions. */
async function forgetBefore({ objects }: Folder, thumb: ThumbJob, revision: number): Promise<void> {
  for await (const { key } of objects.list(thumbsOf(thumb)))
    if (Number.parseInt(path.posix.basename(key)) < Math.min(revision, thumb.revision)) await objects.remove(key);
}
