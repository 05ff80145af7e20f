import fs from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';
import sharp, { type Sharp } from 'sharp';
import express, { Router } from 'express';
import { BexlenError } from '@bexlen/core';
import { estimate, exportIds, exportOrder, exportWish, formatOf, newPreset, type ExportJob, type SheetWish } from '@bexlen/api';
import type { Folder } from '../folder';
import { wrongMethod } from '../http/faults';
import { untilGone } from '../http/gone';
import type { News } from '../http/news';
import { knownId } from '../http/params';
import { writeZip, freeNames } from '@bexlen/render/files/zips';
import type { Checks } from '../http/checks';
import { endingOf, exportPath, type Exporter } from '../jobs/exporter';
import type { Thumbs } from '../jobs/thumbs';
import type { Db } from '../store/db';
import { MAX_PIXELS } from '@bexlen/render/decode/limits';
import { derived, derivedPath, isThere } from '../store/originals';
import { addExports, addLayersFile, addSheet } from '../store/exports';
import { allPresets, keepPreset, removePreset } from '../store/presets';

export function exportRoutes({ db, folder, checks, exporter, thumbs, news }: Parts): Router {
  const router = Router();
  router.param('id', knownId);
  const { states } = exporter;
  const withProgress = (job: ExportJob): ExportJob => (job.state === 'working' ? { ...job, progress: exporter.progressOf(job.id) } : job);

  const begun = (ids: readonly string[]): Promise<ExportJob[]> => {
    exporter.wake();
    return Promise.all(ids.map((id) => states.one(id)));
  };
  const forgetThumb = (job: ExportJob): Promise<void> => fs.rm(derivedPath(folder, THUMB, job.id), { force: true });

  router
    .route('/exports')
    .get(async (_req, res) => void res.json({ exports: (await states.all()).map(withProgress) }))
    .post(express.json(), async (req, res) => {
      const { versionIds, wish } = exportOrder.parse(req.body);
      res.status(201).json({ exports: await begun(await addExports(db, versionIds, wish)) });
    })
    .all(wrongMethod('GET', 'POST'));

  router
    .route('/exports/layers')
    .post(express.json(), async (req, res) => {
      const [job] = await begun([await addLayersFile(db, ofVersion.parse(req.body).versionId)]);
      res.status(201).json(job);
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/sheet')
    .post(checks.body('sheet'), async (req, res) => {
      const [job] = await begun([await addSheet(db, req.body as SheetWish)]);
      res.status(201).json(job);
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/stop')
    .post(express.json(), async (req, res) => {
      const jobs = await Promise.all(exportIds.parse(req.body).ids.map((id) => states.one(id)));
      // Those that wait come first: what is being made makes room for the next one when it stops.
      const inOrder = [...jobs.filter(({ state }) => state === 'waiting'), ...jobs.filter(({ state }) => state === 'working')];
      for (const { id } of inOrder) await exporter.cancel(id);
      res.json({ exports: await Promise.all(jobs.map(({ id }) => states.one(id))) });
    })
    .all(wrongMethod('POST'));
  router
    .route('/exports/go-on')
    .post(express.json(), async (req, res) => {
      const { ids } = exportIds.parse(req.body);
      for (const { id, state } of await Promise.all(ids.map((it) => states.one(it)))) if (state === 'cancelled') await states.set(id, 'waiting');
      res.json({ exports: await begun(ids) });
    })
    .all(wrongMethod('POST'));

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
      const jobs = await Promise.all(archived.parse(req.query).ids.map((id) => states.one(id)));
      const there = await Promise.all(jobs.map((job) => isThere(exportPath(folder, job))));
      const done = jobs.filter(({ state }, i) => state === 'done' && there[i]);
      if (done.length === 0) throw noFile();
      const free = freeNames();
      const files = done.map((job) => ({
        name: free(path.parse(job.fileName).name, endingOf(job.format)),
        from: exportPath(folder, job),
        stored: true,
      }));
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
      const job = await states.one(req.params.id);
      if (job.state === 'working') throw new BexlenError('conflict', 'This export is being made.', 'Cancel it first.');
      await states.remove(job.id);
      await fs.rm(exportPath(folder, job), { force: true });
      await forgetThumb(job);
      news.tell('removed', { id: job.id });
      res.status(204).end();
    })
    .all(wrongMethod('DELETE'));

  router
    .route('/exports/:id/cancel')
    .post(async (req, res) => {
      await exporter.cancel(req.params.id);
      res.json(withProgress(await states.one(req.params.id)));
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/:id/again')
    .post(async (req, res) => {
      const job = await states.one(req.params.id);
      if (job.state === 'waiting' || job.state === 'working')
        throw new BexlenError('conflict', 'This export is on its way already.', 'Wait for it, or cancel it first.');
      await states.set(job.id, 'waiting');
      await forgetThumb(job);
      exporter.wake();
      res.json(await states.one(job.id));
    })
    .all(wrongMethod('POST'));

  router
    .route('/exports/:id/file')
    .get(async (req, res) => {
      const job = await states.one(req.params.id);
      if (job.state !== 'done') throw noFile();
      res.type(TYPES[job.format] ?? formatOf(job.format).type).download(exportPath(folder, job), job.fileName);
    })
    .all(wrongMethod('GET'));

  router
    .route('/exports/:id/thumb')
    .get(async (req, res) => {
      const job = await states.one(req.params.id);
      if (job.state !== 'done' || job.format === 'pdf' || job.format === 'ora') throw noFile();
      if (!(await isThere(exportPath(folder, job)))) throw noFile();
      const file = await derived(folder, THUMB, job.id, (to) => small(exportPath(folder, job)).toFile(to));
      res.set('Cache-Control', 'no-cache').type('image/jpeg').sendFile(file);
    })
    .all(wrongMethod('GET'));

  return router;
}

interface Parts {
  readonly db: Db;
  readonly folder: Folder;
  readonly checks: Checks;
  readonly exporter: Exporter;
  readonly thumbs: Thumbs;
  readonly news: News;
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

const THUMB = 'export-thumb';
/** Long edge of an export's small picture, in pixels. */
const SMALL_EDGE = 256;

const small = (file: string): Sharp =>
  sharp(file, { limitInputPixels: MAX_PIXELS })
    .resize(SMALL_EDGE, SMALL_EDGE, { fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#808080' })
    .toColourspace('srgb')
    .jpeg({ quality: 84 });
