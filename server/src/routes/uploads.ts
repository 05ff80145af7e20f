import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import { Router, type Request, type RequestHandler, type Response } from 'express';
import { BexlenError } from '@bexlen/core';
import { imported, isRawName } from '@bexlen/api';
import { deviceOf } from '../door/entry';
import type { Folder } from '../folder';
import { asFault, STATUS, toFault, wrongMethod } from '../http/faults';
import type { Log } from '../log';
import type { Decoders } from '../decoders/decoders';
import type { Imported } from '../importer';
import type { Db } from '../store/db';
import type { Arrivals } from '../objects/arrivals';
import type { Devices } from '../store/devices';
import { photoById } from '../store/photos';
import { takeIn } from '../take-in';

const LOOK_MS = 3_600_000;
/** Uploads of one device that may be under way. */
const MOST = 1000;
/** Outcomes that are remembered, for those who did not hear the answer. */
const REMEMBERED = 1000;

interface Parts {
  readonly db: Db;
  readonly folder: Folder;
  readonly arrivals: Arrivals;
  readonly decoders: Decoders;
  readonly devices: Devices;
  readonly log: Log;
  readonly maxUploadBytes: number;
}

/**
 * Uploads that go on where they stopped (tus 1.0.0, with creation, termination and expiration), also after the server was started anew: bytes first, then `take` brings the whole file to
 * the shelf, and says the same however often it is asked.
 */
export async function uploadRoutes({ db, folder, arrivals, decoders, devices, log, maxUploadBytes }: Parts): Promise<Router> {
  const { Server: TusServer } = await import('@tus/server');
  const { store } = arrivals;
  const tus = new TusServer({
    path: '/api/uploads',
    datastore: store,
    maxSize: maxUploadBytes,
    relativeLocation: true,
    namingFunction: (req) => `${ownerOf((req.runtime?.node as { req: Request } | undefined)?.req)}.${randomUUID()}`,
    onResponseError: async (_req, error) => {
      const told = 'status_code' in error;
      if (told && error.status_code < 500) return { status_code: error.status_code, body: '' };
      // The library does not say why it could not write.
      const fault = asFault(told && (await isFull(folder)) ? { code: 'ENOSPC' } : error);
      return { status_code: STATUS[fault.code], body: JSON.stringify(toFault(fault)) };
    },
  });
  const clean = (): void => {
    tus.cleanUpExpiredUploads().catch((error: unknown) => log.warn({ err: error }, 'expired uploads could not be removed'));
  };
  clean();
  setInterval(clean, LOOK_MS).unref();
  devices.onLeave((id) => arrivals.throwAway(id));

  const outcomes = new Map<string, Promise<Imported>>();
  const found = (id: string): ReturnType<typeof store.getUpload> =>
    store.getUpload(id).catch(() => {
      throw new BexlenError('not-found', 'This upload is not here any more.', 'Import the file again.');
    });
  const takenIn = async (id: string): Promise<Imported> => {
    const { size, offset, metadata } = await found(id);
    if (size !== offset) throw new BexlenError('conflict', 'The file has not arrived as a whole yet.', 'Send the rest of it first.');
    // Before the answer, so that nothing is left when it comes. What cannot be removed now goes by itself after three days.
    const over = (): Promise<void> =>
      store.remove(id).catch((error: unknown) => log.warn({ err: error }, 'an upload that is over could not be removed'));
    try {
      const taken = await arrivals.read(id, (file) => takeIn(db, folder, decoders, file, metadata?.['filename'] ?? 'Photo'));
      await over();
      return taken;
    } catch (error) {
      if (!mayGoBetter(error)) await over();
      throw error;
    }
  };
  const outcome = (id: string): Promise<Imported> => {
    const there = outcomes.get(id);
    if (there) return there;
    const taking = takenIn(id);
    outcomes.set(id, taking);
    taking.catch((error: unknown) => {
      if (mayGoBetter(error)) outcomes.delete(id);
    });
    if (outcomes.size > REMEMBERED) outcomes.delete([...outcomes.keys()][0] as string);
    return taking;
  };

  const router = Router();
  router.use('/uploads', wellPut);
  router.param('upload', (req, _res, next, id: string) => {
    const mine = ID.test(id) && id.startsWith(`${ownerOf(req)}.`);
    next(mine ? undefined : new BexlenError('not-found', 'There is no such upload.', 'Import the file again.'));
  });
  router
    .route('/uploads/:upload/take')
    .post(async (req, res) => {
      const { id, known, notes } = await outcome(req.params.upload);
      res.status(known ? 200 : 201).json(imported.parse({ photo: await photoById(db, folder, id), known, notes }));
    })
    .all(wrongMethod('POST'));
  router
    .route('/uploads/:upload/preview')
    .get(async (req, res) => {
      const { size, offset, metadata } = await found(req.params.upload);
      const name = metadata?.['filename'] ?? '';
      const jpeg = size === offset && isRawName(name) ? await arrivals.read(req.params.upload, (file) => decoders.preview(file, name)) : undefined;
      if (!jpeg) throw new BexlenError('not-found', 'No picture is stored in this file.', 'Wait until it is on the shelf.');
      res.type('jpeg').set('Cache-Control', 'no-store').send(Buffer.from(jpeg));
    })
    .all(wrongMethod('GET'));
  router
    .route('/uploads')
    .post(async (req, res) => {
      if ((await arrivals.begun(ownerOf(req))) >= MOST)
        throw new BexlenError('conflict', 'Too many uploads are under way.', 'Wait until some have arrived, then import the rest.');
      await tus.handle(whole(req), plainly(req, res));
    })
    .options((req, res) => tus.handle(whole(req), plainly(req, res)))
    .all(wrongMethod('POST', 'OPTIONS'));
  router
    .route('/uploads/:upload')
    .head((req, res) => tus.handle(whole(req), plainly(req, res)))
    .patch((req, res) => tus.handle(whole(req), plainly(req, res)))
    .delete((req, res) => tus.handle(whole(req), plainly(req, res)))
    .all(wrongMethod('HEAD', 'PATCH', 'DELETE'));
  return router;
}

/** What the library would refuse without a word that a page can read. */
const wellPut: RequestHandler = (req, _res, next) => {
  const ofProtocol = req.method === 'OPTIONS' || /\/(take|preview)$/.test(req.path) || req.headers['tus-resumable'] === '1.0.0';
  const numbers = ['upload-length', 'upload-offset'].every((name) => /^\d{0,15}$/.test(String(req.headers[name] ?? '')));
  // Files in several uploads, put together afterwards, are an extension that is not spoken here.
  next(ofProtocol && numbers && req.headers['upload-concat'] === undefined ? undefined : refused(400));
};

const ID = /^[0-9a-z-]+\.[0-9a-z-]+$/i;
const TRY_AGAIN = ['conflict', 'disk-full', 'internal', 'memory', 'cancelled', 'no-store', 'no-database'];

/** Whether an upload that could not be taken in is kept, because it may be the next time. */
const mayGoBetter = (error: unknown): boolean => TRY_AGAIN.includes(asFault(error).code);

/** Who begins an upload: a device, or the machine itself. */
const ownerOf = (req: Request | undefined): string => (req && deviceOf(req)?.id) ?? 'home';

/** The request with its whole address, as the library wants it, which finds the upload's id at its end: without a query, so that it is the one that was looked at. */
function whole(req: Request): Request {
  req.url = new URL(req.originalUrl, 'http://uploads').pathname;
  return req;
}

/** Room on the disk under which it counts as full. */
const FULL_BYTES = 1e6;
const isFull = async ({ uploads }: Folder): Promise<boolean> => {
  const { bavail, bsize } = await fs.statfs(uploads);
  return bavail * bsize < FULL_BYTES;
};

/** The answer of the library as all others here are: refusals in JSON, and no leave for other sites. */
function plainly(req: Request, res: Response): Response {
  const [writeHead, end] = [res.writeHead.bind(res), res.end.bind(res)];
  res.writeHead = (status: number, ...rest: unknown[]) => {
    const given = (rest.at(-1) ?? []) as readonly string[];
    const headers = given.flatMap((name, i) => (i % 2 === 0 && !/^access-control-/i.test(name) ? [name, given[i + 1] as string] : []));
    const isJson = given.some((name, i) => i % 2 === 0 && /^content-type$/i.test(name) && /json/.test(given[i + 1] ?? ''));
    if (status < 400 || isJson || req.method === 'HEAD') return writeHead(status, headers);
    const text = status < 500 ? JSON.stringify(toFault(refused(status))) : undefined;
    const plain = headers.flatMap((name, i) => (i % 2 === 0 && !/^content-(type|length)$/i.test(name) ? [name, headers[i + 1] as string] : []));
    if (text !== undefined) {
      res.write = () => true;
      res.end = ((..._given: unknown[]) => end(text)) as typeof res.end;
    }
    return writeHead(status, [...plain, 'Content-Type', 'application/json; charset=utf-8', 'Cache-Control', 'no-store']);
  };
  return res;
}

/** What is told of a refusal by the protocol. */
function refused(status: number): BexlenError {
  if (status === 404 || status === 410) return new BexlenError('not-found', 'This upload is not here any more.', 'Import the file again.');
  if (status === 413) return new BexlenError('too-large', 'The file is larger than an import may be.', 'Make it smaller and import it again.');
  if (status === 409 || status === 423 || status === 460)
    return new BexlenError('conflict', 'The upload is not where it was thought to be.', 'Ask how far it is, and go on from there.');
  return new BexlenError('bad-request', 'The upload is not as the protocol wants it.', 'Send it by tus 1.0.0.');
}
