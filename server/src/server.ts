import os from 'node:os';
import express from 'express';
import { pinoHttp } from 'pino-http';
import { BexlenError } from '@bexlen/core';
import { Codes } from './door/codes';
import { Doors, type NetworkWish } from './door/doors';
import { entry } from './door/entry';
import { takeFolder, type Folder } from './folder';
import { Checks } from './http/checks';
import { answerFault } from './http/faults';
import { guard } from './http/guard';
import { News } from './http/news';
import { Health } from './http/health';
import { headers, pageIn, site } from './http/site';
import { Decoders } from './decoders/decoders';
import { Workshop } from '@bexlen/render/pool/workshop';
import { Exporter } from './jobs/exporter';
import { Stores } from './jobs/supplies';
import { Thumbs } from './jobs/thumbs';
import type { EngineFiles } from '@bexlen/render/pool/pool';
import type { Log } from './log';
import { cubeRoutes } from './routes/cubes';
import { exportRoutes } from './routes/exports';
import { lookRoutes } from './routes/looks';
import { newCode, phoneRoutes, stateOf } from './routes/phone';
import { photoRoutes } from './routes/photos';
import { orphanRoutes } from './routes/orphans';
import { rollRoutes } from './routes/rolls';
import { tableRoutes } from './routes/tables';
import { strokeRoutes } from './routes/strokes';
import { uploadRoutes } from './routes/uploads';
import { versionRoutes } from './routes/versions';
import type { PairingCode, PhoneState } from '@bexlen/api';
import { openDb, type Db } from './store/db';
import { Devices } from './store/devices';
import { setAside } from './store/orphans';
import { Looks } from './store/looks';
import { ourLooks } from './looks/ours';
import { allHashes, allPhotos } from './store/photos';
import { forgetStrokes } from './store/strokes';
import { seed } from './seed';

export interface Settings {
  readonly data: string;
  /** The address of a PostgreSQL server; a database in the data folder, unless given. */
  readonly database?: string;
  /** 0 takes any free port. */
  readonly port: number;
  readonly site: string;
  readonly migrations: string;
  readonly engine: EngineFiles;
  /** The built programs that read photos and that check long texts. */
  readonly decoder: string;
  readonly checks: string;
  /** The folder of the faces that sheets on paper are set in. */
  readonly fonts: string;
  /** The folder of the looks that come with Bexlen. */
  readonly looks: string;
  /** A folder with the demo shelf; without it the shelf starts empty. */
  readonly demo?: string;
  readonly maxUploadBytes: number;
  readonly log: Log;
  /** The folder of the built pairing page. */
  readonly pairPage: string;
  /** Whether, and under which addresses, phones in the network may come. */
  readonly phone?: NetworkWish;
  /** A proxy that stands in front: under which origin, and the port that it finds here; 0 takes any free one. */
  readonly proxy?: { readonly origin: string; readonly port: number };
}

export interface Running {
  readonly address: string;
  /** The port that a proxy in front finds here. */
  readonly proxyPort: number | undefined;
  /** How the doors to the network stand. */
  readonly phone: () => Omit<PhoneState, 'devices'>;
  /** Looks at once whether the machine has other addresses. */
  readonly follow: () => Promise<void>;
  /** A new code for pairing. Throws where no door is open. */
  readonly code: () => PairingCode;
  readonly close: () => Promise<void>;
}

/** Threads that make files stand behind those that make what somebody looks at (setpriority(2)). */
const BEHIND = 10;

/** Makes the small pictures that the shelf shows, so that whoever opens it for the first time sees them at once. */
async function showFirst(db: Db, folder: Folder, thumbs: Thumbs, log: Log): Promise<void> {
  const { photos } = await allPhotos(db, folder);
  for (const { versions } of photos)
    for (const { id } of versions.slice(0, 1))
      await thumbs.of(id).catch((error: unknown) => log.warn({ err: error, version: id }, 'a small picture could not be made'));
}

/** Starts the server on a data folder of its own: on this machine, and for paired devices in its network where that is wished. */
export async function start(settings: Settings): Promise<Running> {
  const { log } = settings;
  const folder = await takeFolder(settings.data);
  const db = await openDb(settings.database ?? folder.database, settings.migrations);
  const orphans = await setAside(folder, await allHashes(db));
  if (orphans > 0) log.warn({ orphans }, 'originals that no photo names were set aside');
  const unnamed = await forgetStrokes(db);
  if (unnamed > 0) log.info({ unnamed }, 'strokes were removed that nothing has named for a while');
  const decoders = new Decoders(settings.decoder);
  const checks = new Checks(settings.checks);
  const seeded = settings.demo !== undefined && (await seed(db, folder, decoders, settings.demo));

  const stores = new Stores(db, folder, decoders, checks);
  const news = new News(() => pageIn(settings.site));
  const health = new Health(db);
  const exporter = new Exporter(
    db,
    folder,
    stores,
    new Workshop(settings.engine, Math.min(4, os.availableParallelism()), BEHIND),
    log,
    (job) => {
      news.tell('export', job);
      health.note(job);
    },
    settings.fonts,
  );
  const thumbs = new Thumbs(db, folder, decoders, stores, new Workshop(settings.engine, 1));
  if (seeded) await showFirst(db, folder, thumbs, log);
  const looks = new Looks(db, folder, await ourLooks(settings.looks));
  const app = express();
  app.disable('x-powered-by');
  app.use(pinoHttp({ logger: log, autoLogging: false }));
  app.use(headers(settings.site));
  app.use(guard);
  const codes = new Codes();
  const devices = new Devices(db, () => news.tell('devices', {}));
  const doors = new Doors(app, log);
  const origin = settings.proxy?.origin;
  app.use(entry(doors, codes, devices, settings.pairPage));
  app.use(health.routes());
  app.use('/api', (_req, res, next) => {
    // Unless a route says otherwise: what is told of the shelf is for the one who asked, and for now.
    res.set('Cache-Control', 'private, no-store');
    next();
  });
  app.use(
    '/api',
    news.watch,
    news.routes(),
    phoneRoutes(doors, codes, devices, origin),
    photoRoutes(db, folder, decoders, checks, thumbs),
    await uploadRoutes({ db, folder, decoders, devices, log, maxUploadBytes: settings.maxUploadBytes }),
    orphanRoutes(db, folder, decoders),
    rollRoutes(db),
    lookRoutes(db, looks, checks),
    versionRoutes(db, thumbs, checks, news),
    exportRoutes({ db, folder, checks, exporter, thumbs, news }),
    tableRoutes(db, looks, thumbs),
    cubeRoutes(folder, checks),
    strokeRoutes(db),
  );
  app.use('/api', () => {
    throw new BexlenError('not-found', 'There is nothing under this address.', 'Look at the list of routes in docs/architecture.md.');
  });
  app.use(site(settings.site));
  app.use(answerFault(log));

  const port = await doors.home(settings.port);
  const proxyPort = settings.proxy && (await doors.proxy(settings.proxy.origin, settings.proxy.port));
  if (settings.phone) await doors.network(folder.phone, settings.phone);
  await exporter.begin();
  const close = async (): Promise<void> => {
    doors.close();
    await exporter.close();
    await thumbs.close();
    await decoders.close();
    await checks.close();
    await db.close();
    await folder.release();
  };
  return {
    address: `http://127.0.0.1:${port}`,
    proxyPort,
    phone: () => stateOf(doors, origin),
    follow: () => doors.follow(),
    code: () => newCode(doors, codes, origin),
    close,
  };
}
