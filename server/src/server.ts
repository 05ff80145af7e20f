import http from 'node:http';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import express from 'express';
import { pinoHttp } from 'pino-http';
import { BexlenError } from '@bexlen/core';
import { shelfWish, type PairingCode, type PhoneState } from '@bexlen/api';
import { Workshop } from '@bexlen/render/pool/workshop';
import { isChosen } from './door/choice';
import { Codes } from './door/codes';
import { Doors, type NetworkWish } from './door/doors';
import { entry } from './door/entry';
import { answerFault } from './http/faults';
import { guard, ownGuard } from './http/guard';
import { Health } from './http/health';
import { News } from './http/news';
import { headers, pageIn, site } from './http/site';
import { darkroomOf, openHouse, type House, type HouseSettings } from './house';
import { Orders } from './jobs/orders';
import { ThumbMaker, OthersThumbs } from './jobs/thumb-jobs';
import { Thumbs } from './jobs/thumbs';
import { ourLooks } from './looks/ours';
import { arrivalsOf } from './objects/arrivals';
import { cubeRoutes } from './routes/cubes';
import { faultRoutes } from './routes/faults';
import { exportRoutes } from './routes/exports';
import { lookRoutes } from './routes/looks';
import { orphanRoutes } from './routes/orphans';
import { newCode, phoneRoutes, stateOf } from './routes/phone';
import { photoRoutes } from './routes/photos';
import { rollRoutes } from './routes/rolls';
import { strokeRoutes } from './routes/strokes';
import { tableRoutes } from './routes/tables';
import { uploadRoutes } from './routes/uploads';
import { versionRoutes } from './routes/versions';
import { seed } from './seed';
import { Devices } from './store/devices';
import { Looks } from './store/looks';
import { setAside } from './store/orphans';
import { allHashes } from './store/photos';
import { shelfPage } from './store/shelf';
import { forgetStrokes } from './store/strokes';

export interface Settings extends HouseSettings {
  /** 0 takes any free port. */
  readonly port: number;
  readonly site: string;
  /** The folder of the looks that come with Bexlen. */
  readonly looks: string;
  /** A folder with the demo shelf; without it the shelf starts empty. */
  readonly demo?: string;
  readonly maxUploadBytes: number;
  /** The folder of the built pairing page. */
  readonly pairPage: string;
  /** Under which addresses phones in the network may come, where that is wished. */
  readonly network: NetworkWish;
  /** Whether they may from the start on; else as it was last chosen. */
  readonly phone?: boolean;
  /** A proxy that stands in front: under which origin, and the port that it finds here; 0 takes any free one. */
  readonly proxy?: { readonly origin: string; readonly port: number };
  /** Whether files are made elsewhere. */
  readonly webOnly?: boolean;
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
  readonly code: () => Promise<PairingCode>;
  readonly close: () => Promise<void>;
}

/** Brings the tables in order before anybody asks; fills an empty shelf where that is wished. Returns whether it did. */
async function setUp({ db, folder, decoders, log }: House, demo: string | undefined): Promise<boolean> {
  // Where there are others, one of them may be importing: what no photo names may be named in a moment.
  const orphans = folder.objects.own ? await setAside(folder, await allHashes(db)) : 0;
  if (orphans > 0) log.warn({ orphans }, 'originals that no photo names were set aside');
  const unnamed = await forgetStrokes(db);
  if (unnamed > 0) log.info({ unnamed }, 'strokes were removed that nothing has named for a while');
  return demo !== undefined && (await db.alone(() => seed(db, folder, decoders, demo)));
}

/** Makes the small pictures that the shelf shows, before somebody asks for them, as long as that is wanted. */
async function showFirst({ db, folder, log }: House, thumbs: Thumbs, wanted: AbortSignal): Promise<void> {
  const { photos } = await shelfPage(db, folder, shelfWish.parse({}));
  for (const { versions } of photos)
    for (const { id } of versions.slice(0, 1)) {
      if (wanted.aborted) return;
      await thumbs
        .of(id, wanted)
        .catch((error: unknown) => wanted.aborted || log.warn({ err: error, version: id }, 'a small picture could not be made'));
    }
}

/** Starts a process that serves pages and changes, on this machine, and for paired devices in its network where that is wished; and makes files, unless others do. */
export async function start(settings: Settings): Promise<Running> {
  const house = await openHouse(settings);
  const { db, folder, decoders, checks, stores, queue, bulletin, log } = house;
  const seeded = await setUp(house, settings.demo);

  const orders = new Orders(db, queue, folder, bulletin);
  const news = new News(
    () => pageIn(settings.site),
    bulletin,
    (id) => orders.one(id),
  );
  const health = new Health(db);
  const darkroom = settings.webOnly ? undefined : darkroomOf(house, settings, (job) => health.note(job));
  const others = settings.webOnly ? new OthersThumbs(house) : undefined;
  const thumbs = new Thumbs(db, folder, decoders, stores, new Workshop(settings.engine, 1), others);
  // Others may want small pictures of it too.
  const hand = darkroom && !folder.objects.own ? new ThumbMaker(house, thumbs) : undefined;
  const looks = new Looks(db, folder, await ourLooks(settings.looks));
  const app = express();
  app.disable('x-powered-by');
  app.use(pinoHttp({ logger: log, autoLogging: false }));
  app.use(headers(settings.site));
  app.use(guard);
  const codes = new Codes(db);
  if (folder.objects.own) await codes.forget();
  const devices = new Devices(db, () => news.tell('devices', {}));
  devices.onLeave((device) => Promise.resolve(bulletin.say({ of: 'left', device })));
  bulletin.hear('left', ({ device }) => devices.cutOff(device));
  const doors = new Doors(app, log);
  const origin = settings.proxy?.origin;
  app.use(entry(doors, codes, devices, settings.pairPage));
  app.use(health.routes());
  app.use('/api', (_req, res, next) => {
    // Unless a route says otherwise: what is told of the shelf is for the one who asked, and for now.
    res.set('Cache-Control', 'private, no-store');
    next();
  });
  const arrivals = arrivalsOf(folder);
  app.use(
    '/api',
    news.watch,
    news.routes(),
    phoneRoutes({ doors, codes, devices, folder, network: settings.network, origin }),
    photoRoutes(db, folder, decoders, checks, thumbs),
    await uploadRoutes({ db, folder, arrivals, decoders, devices, log, maxUploadBytes: settings.maxUploadBytes }),
    orphanRoutes(db, folder, decoders),
    rollRoutes(db),
    lookRoutes(db, looks, checks, thumbs),
    versionRoutes(db, thumbs, checks, news),
    exportRoutes({ db, folder, checks, orders, thumbs, silentSeconds: house.silentSeconds }),
    tableRoutes(db, looks, thumbs),
    cubeRoutes(folder, checks),
    strokeRoutes(db),
    faultRoutes(log),
  );
  app.use('/api', () => {
    throw new BexlenError('not-found', 'There is nothing under this address.', 'Look at the list of routes in docs/architecture.md.');
  });
  // What other programs hand over is kept by the page's own worker, which a browser has once the page was opened in it.
  app.post('/received', () => {
    throw new BexlenError(
      'conflict',
      'These photos did not come in: Bexlen was not opened in this browser yet.',
      'Open the shelf once, then hand them over again.',
    );
  });
  app.use(site(settings.site));
  app.use(answerFault(log));

  const port = await doors.home(settings.port);
  const proxyPort = settings.proxy && (await doors.proxy(settings.proxy.origin, settings.proxy.port));
  if (settings.phone || (await isChosen(folder))) await doors.network(folder.phone, settings.network);
  await darkroom?.begin();
  hand?.begin();
  const leaving = new AbortController();
  const showing = seeded ? showFirst(house, thumbs, leaving.signal) : Promise.resolve();
  showing.catch((error: unknown) => leaving.signal.aborted || log.warn({ err: error }, 'the first small pictures could not be made'));
  const close = async (): Promise<void> => {
    doors.close();
    leaving.abort();
    await showing.catch(() => undefined);
    await darkroom?.close();
    await (hand ?? thumbs).close();
    await house.close();
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

/** Starts a process that makes files, of any number on any number of machines. Its address tells of its health and nothing else. */
export async function startDarkroom(settings: HouseSettings & { readonly port: number }): Promise<Pick<Running, 'address' | 'close'>> {
  const house = await openHouse(settings);
  const health = new Health(house.db);
  const darkroom = darkroomOf(house, settings, (job) => health.note(job));
  const pictures = new ThumbMaker(house, new Thumbs(house.db, house.folder, house.decoders, house.stores, new Workshop(settings.engine, 1)));
  const app = express();
  app.disable('x-powered-by');
  app.use(ownGuard);
  app.use(health.routes());
  app.use(() => {
    throw new BexlenError('not-found', 'There is nothing under this address.', 'A darkroom tells of /healthz, /readyz and /metrics.');
  });
  app.use(answerFault(house.log));
  const server = http.createServer(app).listen(settings.port, '127.0.0.1');
  await once(server, 'listening');
  await darkroom.begin();
  pictures.begin();
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: async () => {
      server.close();
      await pictures.close();
      await darkroom.close();
      await house.close();
    },
  };
}
