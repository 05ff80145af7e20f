import os from 'node:os';
import type { ExportJob } from '@bexlen/api';
import type { EngineFiles } from '@bexlen/render/pool/pool';
import { Workshop } from '@bexlen/render/pool/workshop';
import { Decoders } from './decoders/decoders';
import { takeFolder, type Folder } from './folder';
import { Bulletin } from './http/bulletin';
import { Checks } from './http/checks';
import { Darkroom } from './jobs/darkroom';
import { Queue } from './jobs/queue';
import { Stores } from './jobs/supplies';
import type { Log } from './log';
import { openDb, type OpenDb } from './store/db';

export interface HouseSettings {
  readonly data: string;
  /** The address of a PostgreSQL server; a database in the data folder, unless given. */
  readonly database?: string;
  /** The address of an object store, or a folder that all processes see; the data folder, unless given. */
  readonly store?: string;
  readonly migrations: string;
  readonly engine: EngineFiles;
  /** The built programs that read photos and that check long texts. */
  readonly decoder: string;
  readonly checks: string;
  /** The folder of the faces that sheets on paper are set in. */
  readonly fonts: string;
  readonly log: Log;
  /** After how many seconds without a sign a machine is silent: the same for all of a house. */
  readonly silentSeconds: number;
}

/** What every process of a house has, whether it serves pages, makes files, or both: the tables, the objects, and what the others say. */
export interface House {
  readonly folder: Folder;
  readonly db: OpenDb;
  readonly queue: Queue;
  readonly bulletin: Bulletin;
  readonly decoders: Decoders;
  readonly checks: Checks;
  readonly stores: Stores;
  readonly log: Log;
  readonly silentSeconds: number;
  readonly close: () => Promise<void>;
}

/** @throws {BexlenError} `folder-in-use`, `no-store` or `no-database` with what to do; then nothing is left open. */
export async function openHouse({ data, database, store, migrations, decoder, checks: checker, log, silentSeconds }: HouseSettings): Promise<House> {
  const folder = await takeFolder(data, store);
  const undo: (() => Promise<unknown>)[] = [folder.release];
  try {
    const db = await openDb(database ?? folder.database, migrations);
    undo.push(() => db.close());
    const queue = await Queue.open(db, log);
    undo.push(() => queue.close());
    const bulletin = new Bulletin(db, log);
    await bulletin.begin();
    const decoders = new Decoders(decoder);
    const checks = new Checks(checker);
    undo.push(() => checks.close());
    undo.push(() => decoders.close());
    const stores = new Stores(db, folder, decoders, checks);
    const close = async (): Promise<void> => {
      for (const each of undo.reverse()) await each();
    };
    return { folder, db, queue, bulletin, decoders, checks, stores, log, silentSeconds, close };
  } catch (error) {
    for (const each of undo.reverse()) await each().catch(() => undefined);
    throw error;
  }
}

/** Threads that make files stand behind those that make what somebody looks at (setpriority(2)). */
const BEHIND = 10;
/** More threads than this do not make a file sooner. */
const MOST_THREADS = 16;

/** The part of a process that makes files. */
export function darkroomOf(house: House, { engine, fonts }: HouseSettings, ended: (job: ExportJob) => void): Darkroom {
  const threads = Math.min(MOST_THREADS, os.availableParallelism());
  return new Darkroom({ ...house, workshop: new Workshop(engine, threads, BEHIND), threads, fonts, ended });
}
