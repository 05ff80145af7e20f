import fs from 'node:fs/promises';
import path from 'node:path';
import limit from 'p-limit';
import { longEdge, pictureSize } from '@bexlen/core';
import { formatOf, type ExportJob } from '@bexlen/api';
import type { Folder } from '../folder';
import { intoPlace } from '../files/durable';
import { asFault, toFault } from '../http/faults';
import type { Log } from '../log';
import type { Db } from '../store/db';
import { exportWork, requeueUnfinished, type ExportWork, type Outcome } from '../store/exports';
import { photoRow } from '../store/photos';
import { make } from '@bexlen/render/make/make';
import { notesOn, noting } from '@bexlen/render/make/notes';
import { makeLayers } from './layers-file';
import { Sheets } from './sheet';
import { ExportStates } from './states';
import type { Stores } from './supplies';
import type { Workshop } from '@bexlen/render/pool/workshop';

const TICK_MS = 200;
/** How long to rest before what went wrong with the queue itself is tried again. */
const AGAIN_MS = 3000;

export type Listener = (job: ExportJob) => void;

/**
 * Makes exports one after another, each with all hands. What was unfinished when the server stopped starts again. No fault of the database or the disk ends the
 * queue: it rests, and goes on.
 */
export class Exporter {
  readonly states: ExportStates;
  private readonly sheets: Sheets;
  private current: { id: string; stop: AbortController; cancelled: boolean; progress: number } | undefined;
  private readonly oneAtATime = limit(1);
  private closing = false;
  private again: NodeJS.Timeout | undefined;

  constructor(
    private readonly db: Db,
    private readonly folder: Folder,
    private readonly stores: Stores,
    private readonly workshop: Workshop,
    private readonly log: Log,
    private readonly tell: Listener,
    fonts: string,
  ) {
    this.states = new ExportStates(db);
    this.sheets = new Sheets(db, folder, stores, workshop, fonts);
  }

  async begin(): Promise<void> {
    await requeueUnfinished(this.db).catch((error: unknown) => this.log.error({ err: error }, 'unfinished exports could not be taken up'));
    this.wake();
  }

  /** Looks for work. */
  wake(): void {
    void this.oneAtATime(() => this.drain()).catch((error: unknown) => {
      this.log.error({ err: error }, 'the queue of exports rests');
      this.wakeLater();
    });
  }

  /** The progress of a job that is being made. */
  progressOf(id: string): number {
    return this.current?.id === id ? this.current.progress : 0;
  }

  async cancel(id: string): Promise<void> {
    if (this.current?.id === id) {
      this.current.cancelled = true;
      this.current.stop.abort();
      return;
    }
    const { state } = await this.states.one(id);
    if (state === 'waiting' || state === 'working') await this.settle(id, 'cancelled');
  }

  /** Stops what is being made and leaves it to be started again. */
  async close(): Promise<void> {
    this.closing = true;
    clearTimeout(this.again);
    this.current?.stop.abort();
    await this.oneAtATime(() => undefined);
    await this.workshop.close();
  }

  private wakeLater(): void {
    clearTimeout(this.again);
    if (!this.closing) this.again = setTimeout(() => this.wake(), AGAIN_MS).unref();
  }

  private async drain(): Promise<void> {
    for (let id = await this.states.next(); id && !this.closing; id = await this.states.next()) await this.carryOut(id);
    if (!(await this.states.keep())) this.wakeLater();
  }

  private async carryOut(id: string): Promise<void> {
    const current: NonNullable<Exporter['current']> = { id, stop: new AbortController(), cancelled: false, progress: 0 };
    this.current = current;
    await this.settle(id, 'working');
    const start = performance.now();
    const ticks = setInterval(() => {
      this.tick(current).catch((error: unknown) => this.log.warn({ err: error }, 'progress could not be told'));
    }, TICK_MS);
    const unfinished = path.join(this.folder.unfinished, `export-${id}`);
    try {
      const work = await exportWork(this.db, id);
      const { bytes, notes = [] } = await this.write(work, current, unfinished);
      await intoPlace(unfinished, exportPath(this.folder, work.job));
      await this.settle(id, 'done', { bytes, notes, tookMs: Math.round(performance.now() - start) });
    } catch (error) {
      await fs.rm(unfinished, { force: true }).catch((fault: unknown) => this.log.warn({ err: fault }, 'a half file stays until the next start'));
      if (this.closing) {
        await this.settle(id, 'waiting');
        return;
      }
      if (current.cancelled) await this.settle(id, 'cancelled');
      else await this.fail(id, error);
    } finally {
      clearInterval(ticks);
      this.current = undefined;
    }
  }

  private async write(
    work: ExportWork,
    current: NonNullable<Exporter['current']>,
    to: string,
  ): Promise<{ readonly bytes: number; readonly notes?: readonly string[] }> {
    const progress = (share: number): void => void (current.progress = share);
    const watch = { signal: current.stop.signal, progress };
    if (work.make === 'sheet') return { bytes: await this.sheets.make(work.sheet, to, watch) };
    const { job, stack } = work;
    const photo = await photoRow(this.db, job.photoId);
    const source = await this.stores.source(photo);
    const supplies = this.stores.of(photo, true);
    if (work.make === 'layers') return { bytes: await makeLayers(this.workshop, { source, stack, supplies, to }, watch) };
    const { wish } = work;
    const full = pictureSize(stack.geometry, photo);
    const size = longEdge(job) < longEdge(full) ? { size: longEdge(job) } : {};
    const notes = notesOn(wish, source);
    const metadata = noting(notes, (of) => this.stores.metadata(source.original ?? source.file, wish.metadata, of));
    return { bytes: await make(this.workshop, { source, stack, wish, to, sharpen: wish.sharpen, metadata, supplies, ...size }, watch), notes };
  }

  private async fail(id: string, error: unknown): Promise<void> {
    const fault = asFault(error);
    if (fault.code === 'internal') this.log.error({ err: error, export: id }, 'export failed');
    await this.settle(id, 'failed', { fault: toFault(fault) });
  }

  private async tick(current: NonNullable<Exporter['current']>): Promise<void> {
    const job = await this.states.one(current.id).catch(() => undefined);
    if (job && this.current === current) this.tell({ ...job, progress: current.progress });
  }

  private async settle(id: string, state: ExportJob['state'], outcome: Outcome = {}): Promise<void> {
    await this.states.set(id, state, outcome);
    await this.states.one(id).then(this.tell, () => undefined);
  }
}

/** What a file of an export's format ends with. */
export const endingOf = (format: ExportJob['format']): string => (format === 'pdf' || format === 'ora' ? format : formatOf(format).ending);
export const exportPath = ({ exports }: Folder, { id, format }: Pick<ExportJob, 'id' | 'format'>): string =>
  path.join(exports, `${id}.${endingOf(format)}`);
