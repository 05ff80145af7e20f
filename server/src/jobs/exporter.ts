import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError } from '@bexlen/core';
import type { ExportJob } from '../api';
import type { Folder } from '../folder';
import { asFault, toFault } from '../http/faults';
import { decode } from '../images/decode';
import { encode } from '../images/encode';
import type { Log } from '../log';
import type { Db } from '../store/db';
import { exportById, exportWork, nextWaiting, requeueUnfinished, setState } from '../store/exports';
import { originalPath } from '../store/originals';
import { photoRow } from '../store/photos';
import { Crew, type EngineFiles } from './crew';

/** Decoding, rendering and encoding as shares of the bar. */
const DECODED = 0.15;
const RENDERED = 0.7;
const TICK_MS = 200;

export type Listener = (job: ExportJob) => void;

/** Makes exports one after another, each with all hands. What was unfinished when the server stopped starts again. */
export class Exporter {
  private current: { id: string; crew?: Crew; cancelled: boolean; progress: number } | undefined;
  private running: Promise<void> = Promise.resolve();
  private closing = false;

  constructor(
    private readonly db: Db,
    private readonly folder: Folder,
    private readonly files: EngineFiles,
    private readonly hands: number,
    private readonly log: Log,
    private readonly tell: Listener,
  ) {}

  async begin(): Promise<void> {
    await requeueUnfinished(this.db);
    this.wake();
  }

  /** Looks for work. */
  wake(): void {
    this.running = this.running.then(() => this.drain()).catch((error: unknown) => this.log.error({ err: error }, 'the exporter stumbled'));
  }

  /** The progress of a job that is being made. */
  progressOf(id: string): number {
    return this.current?.id === id ? this.current.progress : 0;
  }

  async cancel(id: string): Promise<void> {
    if (this.current?.id === id) {
      this.current.cancelled = true;
      this.current.crew?.stop();
      return;
    }
    const { state } = await exportById(this.db, id);
    if (state === 'waiting') await this.settle(id, 'cancelled');
  }

  /** Stops what is being made and leaves it to be started again. */
  async close(): Promise<void> {
    this.closing = true;
    this.current?.crew?.stop();
    await this.running;
  }

  private async drain(): Promise<void> {
    for (let id = await nextWaiting(this.db); id && !this.closing; id = await nextWaiting(this.db)) await this.make(id);
  }

  private async make(id: string): Promise<void> {
    const current: NonNullable<Exporter['current']> = { id, cancelled: false, progress: 0 };
    this.current = current;
    await this.settle(id, 'working');
    const start = performance.now();
    const ticks = setInterval(() => void this.tick(current), TICK_MS);
    const unfinished = path.join(this.folder.unfinished, `export-${id}`);
    try {
      const bytes = await this.write(current, unfinished);
      const { job } = await exportWork(this.db, id);
      await fs.rename(unfinished, exportPath(this.folder, job));
      await this.settle(id, 'done', { bytes, tookMs: Math.round(performance.now() - start) });
    } catch (error) {
      await fs.rm(unfinished, { force: true });
      if (this.closing) return;
      if (current.cancelled) await this.settle(id, 'cancelled');
      else await this.fail(id, error);
    } finally {
      clearInterval(ticks);
      this.current = undefined;
    }
  }

  private async write(current: NonNullable<Exporter['current']>, file: string): Promise<number> {
    const { job, stack } = await exportWork(this.db, current.id);
    const photo = await photoRow(this.db, job.photoId);
    const decoded = await decode({ file: originalPath(this.folder, photo.hash), depth: photo.depth, alpha: photo.alpha });
    current.progress = DECODED;
    const crew = await Crew.hire(this.files, this.hands);
    try {
      current.crew = crew;
      this.check(current);
      const { layout } = decoded;
      const alpha = layout.channels === 4 && job.format === 'png';
      crew.open(layout, decoded.pixels);
      const finished = await crew.render(stack, `${alpha ? 'rgba' : 'rgb'}${job.depth}`);
      this.check(current);
      current.progress = RENDERED;
      const made = { width: finished.width, height: finished.height, depth: job.depth, channels: alpha ? 4 : 3 } as const;
      return await encode(finished.pixels, made, job.format === 'jpeg' ? { format: 'jpeg', quality: job.quality ?? 92 } : { format: 'png' }, file);
    } finally {
      await crew.dismiss();
    }
  }

  private check({ cancelled }: { cancelled: boolean }): void {
    if (cancelled || this.closing) throw new BexlenError('cancelled', 'The export was cancelled.', 'Start it again when you want it.');
  }

  private async fail(id: string, error: unknown): Promise<void> {
    const fault = asFault(error);
    if (fault.code === 'internal') this.log.error({ err: error, export: id }, 'export failed');
    await this.settle(id, 'failed', { fault: toFault(fault) });
  }

  private async tick(current: NonNullable<Exporter['current']>): Promise<void> {
    if (current.crew && current.progress < RENDERED) current.progress = DECODED + (RENDERED - DECODED) * current.crew.progress;
    const job = await exportById(this.db, current.id);
    if (this.current === current) this.tell({ ...job, progress: current.progress });
  }

  private async settle(id: string, state: ExportJob['state'], result: Parameters<typeof setState>[3] = {}): Promise<void> {
    await setState(this.db, id, state, result);
    this.tell(await exportById(this.db, id));
  }
}

export const exportPath = ({ exports }: Folder, { id, format }: Pick<ExportJob, 'id' | 'format'>): string =>
  path.join(exports, `${id}.${format === 'jpeg' ? 'jpg' : 'png'}`);
