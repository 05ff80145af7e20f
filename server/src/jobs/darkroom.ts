import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { setTimeout as rest } from 'node:timers/promises';
import { BexlenError, longEdge, pictureSize } from '@bexlen/core';
import type { ExportJob } from '@bexlen/api';
import { make } from '@bexlen/render/make/make';
import { notesOn, noting } from '@bexlen/render/make/notes';
import type { Workshop } from '@bexlen/render/pool/workshop';
import type { Folder } from '../folder';
import type { Bulletin } from '../http/bulletin';
import { asFault, toFault } from '../http/faults';
import type { Log } from '../log';
import type { OpenDb } from '../store/db';
import { exportById, exportWork, keyOf, type ExportWork } from '../store/exports';
import { claim, giveBack, isWanted, recover, settle, type Outcome } from '../store/jobs';
import { forgetMachines, left, seen, type Maker } from '../store/machines';
import { photoRow } from '../store/photos';
import { makeLayers } from './layers-file';
import { MOST_SECONDS, type Queue, type Taken } from './queue';
import { Sheets } from './sheet';
import type { Stores } from './supplies';

const TICK_MS = 200;
/** How often to look for work that nobody has told of, and whether what is made is still wanted. */
const LOOK_MS = 1000;
/** How often a machine says that it is there, and looks whether others fell silent, in the time after which one is called so. */
const BEATS = 4;
const LOOKS = 2;
/** How long to rest before what the database did not take is tried again. */
const AGAIN_MS = 1000;

interface Parts {
  readonly db: OpenDb;
  readonly folder: Folder;
  readonly queue: Queue;
  readonly stores: Stores;
  readonly workshop: Workshop;
  readonly bulletin: Bulletin;
  readonly log: Log;
  readonly fonts: string;
  readonly threads: number;
  /** A machine that was not seen for so long is silent, and what it was making is another's. */
  readonly silentSeconds: number;
  /** Something has become of a file. */
  readonly ended?: (job: ExportJob) => void;
}

interface Current {
  readonly taken: Taken;
  readonly stop: AbortController;
  progress: number;
}

/**
 * Makes files one after another, each with all hands, as the queue gives them. What a machine that fell silent was making is given to another. No fault of the
 * database, the store or the disk ends it: it rests, and goes on.
 */
export class Darkroom {
  private readonly maker: Maker;
  private readonly sheets: Sheets;
  private readonly closing = new AbortController();
  private current: Current | undefined;
  private wake: () => void = () => undefined;
  private working: Promise<unknown> = Promise.resolve();
  private readonly timers: NodeJS.Timeout[] = [];
  /** What is done again and again, while it is being done. */
  private readonly going = new Set<Promise<unknown>>();

  constructor(private readonly parts: Parts) {
    const { db, folder, stores, workshop, fonts, threads, bulletin } = parts;
    this.maker = { id: randomUUID(), name: os.hostname(), threads };
    this.sheets = new Sheets(db, folder, stores, workshop, fonts);
    bulletin.hear('work', () => this.wake());
    bulletin.hear('missed', () => this.wake());
    bulletin.hear('cancelled', ({ ids }) => {
      if (this.current && ids.includes(this.current.taken.exportId)) this.current.stop.abort();
    });
  }

  async begin(): Promise<void> {
    const { db, folder, silentSeconds } = this.parts;
    // Who has the objects to itself has no others beside it.
    const alone = folder.objects.own;
    await this.persist(async () => {
      if (alone) await forgetMachines(db);
      await seen(db, this.maker);
    });
    await this.recover(alone);
    if (!alone) {
      this.every((1000 * silentSeconds) / BEATS, 'this machine could not say that it is there', () => seen(db, this.maker));
      this.every((1000 * silentSeconds) / LOOKS, 'unfinished files could not be taken up', () => this.recover(false));
    }
    this.every(LOOK_MS, 'it is not known whether a file is still wanted', async () => {
      const { current } = this;
      if (current && !(await isWanted(db, current.taken))) current.stop.abort();
    });
    this.working = this.work();
  }

  /** Stops what is being made and gives it back. */
  async close(): Promise<void> {
    const { db, workshop, log } = this.parts;
    this.closing.abort();
    this.timers.forEach(clearInterval);
    this.current?.stop.abort();
    this.wake();
    // A beat that comes after the machine left would say that it is there again.
    await Promise.all([this.working, ...this.going]);
    await left(db, this.maker.id).catch((error: unknown) => log.warn({ err: error }, 'this machine could not say that it leaves'));
    await workshop.close();
  }

  /** Does something again and again, one time after the other. */
  private every(ms: number, otherwise: string, act: () => Promise<unknown>): void {
    let turn: Promise<unknown> | undefined;
    const timer = setInterval(() => {
      if (turn && this.going.has(turn)) return;
      const now = act()
        .catch((error: unknown) => this.parts.log.warn({ err: error }, otherwise))
        .finally(() => this.going.delete(now));
      turn = now;
      this.going.add(now);
    }, ms);
    this.timers.push(timer.unref());
  }

  private async recover(alone: boolean): Promise<void> {
    const { db, queue, bulletin, log, silentSeconds } = this.parts;
    const recovered = await recover(db, queue, alone, silentSeconds).catch((error: unknown) => {
      log.error({ err: error }, 'unfinished files could not be taken up');
      return [];
    });
    for (const { exportId, format, job } of recovered) {
      bulletin.say({ of: 'export', id: exportId, progress: 0 });
      // It may have been written to its end, and not been taken over.
      if (job !== null) await this.drop(keyOf({ exportId, job }, format));
    }
    if (recovered.length > 0) bulletin.say({ of: 'work' });
  }

  private async work(): Promise<void> {
    const { queue, log } = this.parts;
    while (!this.closing.signal.aborted) {
      const woken = new Promise<void>((resolve) => (this.wake = resolve));
      const taken = await queue.take().catch((error: unknown) => log.error({ err: error }, 'the queue could not be read'));
      if (taken) await this.carryOut(taken).catch((error: unknown) => log.error({ err: error, job: taken.job }, 'a job was left as it is'));
      else await Promise.race([woken, rest(LOOK_MS, undefined, { ref: false })]);
    }
  }

  private async carryOut(taken: Taken): Promise<void> {
    const { db, queue, folder, bulletin, log, ended } = this.parts;
    const { exportId: id, job } = taken;
    if (!(await this.persist(() => claim(db, taken, this.maker.id)))) return void (await queue.over(db, job));
    const current: Current = { taken, stop: new AbortController(), progress: 0 };
    this.current = current;
    const tell = (): void => bulletin.say({ of: 'export', id, progress: current.progress });
    tell();
    const start = performance.now();
    const ticks = setInterval(tell, TICK_MS);
    const unfinished = path.join(folder.unfinished, `export-${job}`);
    let key: string | undefined;
    try {
      const work = await exportWork(db, id);
      const { bytes, notes = [] } = await this.write(work, current, unfinished);
      key = keyOf(taken, work.job.format);
      await folder.objects.keep(key, unfinished);
      const outcome = { bytes, notes, file: key, tookMs: Math.round(performance.now() - start) };
      if (!(await this.persist(() => settle(db, queue, taken, 'done', outcome)))) await this.drop(key);
    } catch (error) {
      await fs.rm(unfinished, { force: true }).catch((fault: unknown) => log.warn({ err: fault }, 'a half file stays until the next start'));
      const isNobodys = await this.broken(taken, current, error);
      if (isNobodys && key !== undefined) await this.drop(key);
    } finally {
      clearInterval(ticks);
      this.current = undefined;
      bulletin.say({ of: 'export', id, progress: 0 });
    }
    const after = await exportById(db, id).catch(() => undefined);
    if (after) ended?.(after);
    log.info({ export: id, job, state: after?.state, ms: Math.round(performance.now() - start) }, 'a job is over');
  }

  /** What becomes of a job that was not carried out to its end. Returns whether it is certain that what it has written is nobody's: an end may have been taken without an answer. */
  private async broken(taken: Taken, { stop }: Current, error: unknown): Promise<boolean> {
    const { db, queue, log } = this.parts;
    if (this.closing.signal.aborted) return giveBack(db, queue, taken, false);
    // It was cancelled, or another machine has it.
    if (stop.signal.aborted && stop.signal.reason !== LATE) {
      await this.persist(() => queue.over(db, taken.job));
      return true;
    }
    const fault = stop.signal.aborted ? tooSlow() : asFault(error);
    if (MAY_GO_BETTER.has(fault.code) && (await this.persist(() => giveBack(db, queue, taken, true)))) {
      log.warn({ err: error, export: taken.exportId, job: taken.job }, 'a file is tried again');
      return true;
    }
    if (fault.code === 'internal') log.error({ err: error, export: taken.exportId, job: taken.job }, 'a file failed');
    const outcome: Outcome = { fault: toFault(fault) };
    return this.persist(() => settle(db, queue, taken, 'failed', outcome));
  }

  private async write(work: ExportWork, current: Current, to: string): Promise<{ readonly bytes: number; readonly notes?: readonly string[] }> {
    const { db, stores, workshop } = this.parts;
    const late = setTimeout(() => current.stop.abort(LATE), MOST_SECONDS * 1000).unref();
    const progress = (share: number): void => void (current.progress = share);
    const watch = { signal: current.stop.signal, progress };
    try {
      if (work.make === 'sheet') return { bytes: await this.sheets.make(work.sheet, to, watch) };
      const { job, stack } = work;
      const photo = await photoRow(db, job.photoId);
      const source = await stores.source(photo);
      const supplies = stores.of(photo, true);
      if (work.make === 'layers') return { bytes: await makeLayers(workshop, { source, stack, supplies, to }, watch) };
      const { wish } = work;
      const full = pictureSize(stack.geometry, photo);
      const size = longEdge(job) < longEdge(full) ? { size: longEdge(job) } : {};
      const notes = notesOn(wish, source);
      const metadata = noting(notes, (of) => stores.metadata(source.original ?? source.file, wish.metadata, of));
      return { bytes: await make(workshop, { source, stack, wish, to, sharpen: wish.sharpen, metadata, supplies, ...size }, watch), notes };
    } finally {
      clearTimeout(late);
    }
  }

  /** Removes a file that is nobody's. */
  private async drop(key: string): Promise<void> {
    await this.parts.folder.objects
      .remove(key)
      .catch((error: unknown) => this.parts.log.warn({ err: error, key }, 'a file that is nobody’s was left'));
  }

  /** Tries something with the database until it goes, or this is closed. */
  private async persist<T>(act: () => Promise<T>): Promise<T> {
    for (;;) {
      try {
        return await act();
      } catch (error) {
        if (this.closing.signal.aborted) throw error;
        this.parts.log.warn({ err: error }, 'the database does not take what became of a file; it is tried again');
        await rest(AGAIN_MS, undefined, { signal: this.closing.signal }).catch(() => undefined);
      }
    }
  }
}

const LATE = 'late';
/** Faults that are not the file's own. */
const MAY_GO_BETTER = new Set(['no-store', 'no-database']);

const tooSlow = (): BexlenError =>
  new BexlenError('too-slow', `This file takes longer than ${MOST_SECONDS / 60} minutes.`, 'Make it smaller, or with fewer layers.');
