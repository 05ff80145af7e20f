import { BexlenError } from '@bexlen/core';
import type { ExportJob, FileWish, SheetWish } from '@bexlen/api';
import type { Folder } from '../folder';
import type { Bulletin } from '../http/bulletin';
import type { Db } from '../store/db';
import { addExports, addLayersFile, addSheet, allExports, exportById, exportsById, filesOf, removeExport } from '../store/exports';
import { cancelExports, orderAgain } from '../store/jobs';
import type { Queue } from './queue';

/** Files as whoever orders them sees them: what waits, is made and was made, wherever that is. */
export class Orders {
  private readonly progress = new Map<string, number>();

  constructor(
    private readonly db: Db,
    private readonly queue: Queue,
    private readonly folder: Folder,
    private readonly bulletin: Bulletin,
  ) {
    bulletin.hear('export', ({ id, progress }) => {
      if (progress > 0) this.progress.set(id, progress);
      else this.progress.delete(id);
    });
  }

  async all(): Promise<ExportJob[]> {
    return (await allExports(this.db)).map(this.asItIs);
  }

  /** One of them. @throws {BexlenError} `not-found`. */
  async one(id: string): Promise<ExportJob> {
    return this.asItIs(await exportById(this.db, id));
  }

  /** Some of them, in this order. @throws {BexlenError} `not-found` where one is not there. */
  async some(ids: readonly string[]): Promise<ExportJob[]> {
    return (await exportsById(this.db, ids)).map(this.asItIs);
  }

  async files(versionIds: readonly string[], wish: FileWish): Promise<ExportJob[]> {
    return this.begun(await addExports(this.db, this.queue, versionIds, wish));
  }

  async layers(versionId: string): Promise<ExportJob[]> {
    return this.begun([await addLayersFile(this.db, this.queue, versionId)]);
  }

  async sheet(sheet: SheetWish): Promise<ExportJob[]> {
    return this.begun([await addSheet(this.db, this.queue, sheet)]);
  }

  async cancel(ids: readonly string[]): Promise<ExportJob[]> {
    const cancelled = await cancelExports(this.db, this.queue, ids);
    if (cancelled.length > 0) this.bulletin.say({ of: 'cancelled', ids: cancelled });
    this.tell(cancelled);
    return this.some(ids);
  }

  /** Has those made that were cancelled. */
  async goOn(ids: readonly string[]): Promise<ExportJob[]> {
    const again = await orderAgain(this.db, this.queue, ids, ['cancelled']);
    await this.begun(again);
    return this.some(ids);
  }

  /** Has one made that is over. @throws {BexlenError} `conflict` where it is on its way. */
  async again(id: string): Promise<ExportJob> {
    const before = await filesOf(this.db, [id]);
    const [again] = await orderAgain(this.db, this.queue, [id], ['done', 'failed', 'cancelled']);
    if (again === undefined && (await this.one(id)))
      throw new BexlenError('conflict', 'This export is on its way already.', 'Wait for it, or cancel it first.');
    for (const key of before.values()) await this.folder.objects.remove(key);
    const [job] = await this.begun([id]);
    return job as ExportJob;
  }

  /** Takes one off the list, with its file. @throws {BexlenError} `conflict` where it is being made. */
  async remove(id: string): Promise<void> {
    const { state } = await this.one(id);
    if (state === 'working') throw new BexlenError('conflict', 'This export is being made.', 'Cancel it first.');
    const files = await filesOf(this.db, [id]);
    await cancelExports(this.db, this.queue, [id]);
    await removeExport(this.db, id);
    for (const key of files.values()) await this.folder.objects.remove(key);
    this.bulletin.say({ of: 'page', name: 'removed', what: { id } });
  }

  /** The name of a finished file among the objects. */
  async key(id: string): Promise<string> {
    return (await filesOf(this.db, [id])).get(id) as string;
  }

  private async begun(ids: readonly string[]): Promise<ExportJob[]> {
    this.bulletin.say({ of: 'work' });
    this.tell(ids);
    return this.some(ids);
  }

  private tell(ids: readonly string[]): void {
    for (const id of ids) this.bulletin.say({ of: 'export', id, progress: 0 });
  }

  private readonly asItIs = (job: ExportJob): ExportJob =>
    job.state === 'working' ? { ...job, progress: this.progress.get(job.id) ?? job.progress } : job;
}
