import fs from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';
import sharp, { type Sharp } from 'sharp';
import express, { Router } from 'express';
import { BexlenError } from '@bexlen/core';
import { estimate, exportIds, exportOrder, exportWish, formatOf, machineList, newPreset, type ExportJob, type SheetWish } from '@bexlen/api';
import type { Folder } from '../folder';
import { wrongMethod } from '../http/faults';
import { untilGone } from '../http/gone';
import { knownId } from '../http/params';
import { writeZip, freeNames } from '@bexlen/render/files/zips';
import type { Checks } from '../http/checks';
import type { Orders } from '../jobs/orders';
import type { Thumbs } from '../jobs/thumbs';
import type { Db } from '../store/db';
import { MAX_PIXELS } from '@bexlen/render/decode/limits';
import { derived, derivedPath } from '../store/originals';
import { endingOf, waitingExports } from '../store/exports';
import { allMachines } from '../store/machines';
import { allPresets, keepPreset, removePreset } from '../store/presets';

export function exportRoutes({ db, folder, checks, orders, thumbs, silentSeconds }: Parts): Router {
  const router = Router();
  router.param('id', knownId);
  const { objects } = folder;
  /** A file of this machine that holds a finished one. @throws {BexlenError} `not-found`. */
  const finished = async ({ id, state }: ExportJob): Promise<string> => {
    if (state !== 'done') throw noFile();
    const file = await objects.file(await orders.key(id));
    if (file === undefined) throw goneFile();
    return file;
  };
  const forgetThumb = (id: string): Promise<void> => fs.rm(derivedPath(folder, THUMB, id), { force: true });

  router
    .route('/exports')
    .get(async (_req, res) => void res.json({ exports: await orders.all() }))
    .post(express.json(), async (req, res) => {
      const { versionIds, wish } = exportOrder.parse(req.body);
      res.status(201).json({ exports: await orders.files(versionIds, wish) });
    })
    .all(wrongMethod('GET', 'POST'));

  router
    .route('/exports/layers')
    .post(express.json(), async (req, res) => {
      const [job] = await orders.layers(ofVersion.parse(req.body).versionId);
      res.status(201).json(job);
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/sheet')
    .post(checks.body('sheet'), async (req, res) => {
      const [job] = await orders.sheet(req.body as SheetWish);
      res.status(201).json(job);
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/stop')
    .post(express.json(), async (req, res) => {
      const { ids } = exportIds.parse(req.body);
      await orders.some(ids);
      res.json({ exports: await orders.cancel(ids) });
    })
    .all(wrongMethod('POST'));
  router
    .route('/exports/go-on')
    .post(express.json(), async (req, res) => {
      const { ids } = exportIds.parse(req.body);
      await orders.some(ids);
      res.json({ exports: await orders.goOn(ids) });
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/machines')
    .get(async (_req, res) => {
      const machines = await allMachines(db, objects.own, silentSeconds);
      res.json(machineList.parse({ machines, waiting: await waitingExports(db) }));
    })
    .all(wrongMethod('GET'));

  router
    .route('/exports/estimate')
    .post(express.json(), async (req, res) => {
      const { versionId, ...wish } = exportWish.parse(req.body);
      res.json(estimate.parse(await thumbs.estimate(versionId, wish, untilGone(res))));
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/archive')
    .get(async (req, res) => {
      const done = (await orders.some(archived.parse(req.query).ids)).filter(({ state }) => state === 'done');
      const free = freeNames();
      const files = [];
      for (const job of done) {
        const from = await objects.file(await orders.key(job.id));
        if (from !== undefined) files.push({ name: free(path.parse(job.fileName).name, endingOf(job.format)), from, stored: true });
      }
      if (files.length === 0) throw done.length > 0 ? goneFile() : noFile();
      res.attachment('Bexlen.zip').type('application/zip');
      await pipeline(writeZip(files), res);
    })
    .all(wrongMethod('GET'));

  router
    .route('/presets')
    .get(async (_req, res) => void res.json({ presets: await allPresets(db) }))
    .post(express.json(), async (req, res) => void res.status(201).json(await keepPreset(db, newPreset.parse(req.body))))
    .all(wrongMethod('GET', 'POST'));
  router
    .route('/presets/:id')
    .delete(async (req, res) => {
      await removePreset(db, req.params.id);
      res.status(204).end();
    })
    .all(wrongMethod('DELETE'));

  router
    .route('/exports/:id')
    .delete(async (req, res) => {
      await orders.remove(req.params.id);
      await forgetThumb(req.params.id);
      res.status(204).end();
    })
    .all(wrongMethod('DELETE'));

  router
    .route('/exports/:id/cancel')
    .post(async (req, res) => {
      await orders.one(req.params.id);
      const [job] = await orders.cancel([req.params.id]);
      res.json(job);
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/:id/again')
    .post(async (req, res) => {
      const job = await orders.again(req.params.id);
      await forgetThumb(job.id);
      res.json(job);
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/:id/file')
    .get(async (req, res) => {
      const job = await orders.one(req.params.id);
      const type = TYPES[job.format] ?? formatOf(job.format).type;
      const link = job.state === 'done' ? await objects.link(await orders.key(job.id), { name: job.fileName, type }) : undefined;
      if (link !== undefined) return res.set('Cache-Control', 'no-store').redirect(302, link);
      res.type(type).download(await finished(job), job.fileName);
    })
    .all(wrongMethod('GET'));

  router
    .route('/exports/:id/thumb')
    .get(async (req, res) => {
      const job = await orders.one(req.params.id);
      if (job.format === 'pdf' || job.format === 'ora') throw noFile();
      const from = await finished(job);
      const file = await derived(folder, THUMB, job.id, (to) => small(from).toFile(to));
      res.set('Cache-Control', 'no-cache').type('image/jpeg').sendFile(file);
    })
    .all(wrongMethod('GET'));

  return router;
}

interface Parts {
  readonly db: Db;
  readonly folder: Folder;
  readonly checks: Checks;
  readonly orders: Orders;
  readonly thumbs: Thumbs;
  readonly silentSeconds: number;
}

const ofVersion = z.strictObject({ versionId: z.string().min(1).max(60) });
const archived = z.object({
  ids: z
    .string()
    .max(40_000)
    .transform((ids) => ids.split(',').filter((id) => /^[0-9a-z-]{1,60}$/i.test(id))),
});
const TYPES: Partial<Record<ExportJob['format'], string>> = { pdf: 'application/pdf', ora: 'image/openraster' };

const noFile = (): BexlenError => new BexlenError('not-found', 'This export has no file yet.', 'Wait until it is done, or start it again.');

const goneFile = (): BexlenError => new BexlenError('not-found', 'The file of this export is gone.', 'Make it again.');

const THUMB = 'export-thumb';
/** Long edge of an export's small picture, in pixels. */
const SMALL_EDGE = 256;

const small = (file: string): Sharp =>
  sharp(file, { limitInputPixels: MAX_PIXELS })
    .resize(SMALL_EDGE, SMALL_EDGE, { fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#808080' })
    .toColourspace('srgb')
    .jpeg({ quality: 84 });
