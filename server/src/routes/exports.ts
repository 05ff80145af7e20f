import fs from 'node:fs/promises';
import { createChannel, createSession } from 'better-sse';
import sharp, { type Sharp } from 'sharp';
import express, { Router } from 'express';
import { BexlenError } from '@bexlen/core';
import { exportWish, type ExportJob } from '../api';
import type { Folder } from '../folder';
import { wrongMethod } from '../http/faults';
import { knownId } from '../http/params';
import { exportPath, type Exporter } from '../jobs/exporter';
import type { Db } from '../store/db';
import { MAX_PIXELS } from '../images/inspect';
import { derived, derivedPath } from '../store/originals';
import { addExport } from '../store/exports';

/** Who listens to how exports go. */
export type News = ReturnType<typeof createChannel>;

export function exportRoutes(db: Db, folder: Folder, exporter: Exporter, news: News): Router {
  const router = Router();
  router.param('id', knownId);
  const { states } = exporter;
  const withProgress = (job: ExportJob): ExportJob => (job.state === 'working' ? { ...job, progress: exporter.progressOf(job.id) } : job);

  const forgetThumb = (job: ExportJob): Promise<void> => fs.rm(derivedPath(folder, THUMB, job.id), { force: true });

  router
    .route('/exports')
    .get(async (_req, res) => void res.json({ exports: (await states.all()).map(withProgress) }))
    .post(express.json(), async (req, res) => {
      const id = await addExport(db, exportWish.parse(req.body));
      exporter.wake();
      res.status(201).json(await states.one(id));
    })
    .all(wrongMethod('GET', 'POST'));

  router
    .route('/exports/events')
    .get(async (req, res) => news.register(await createSession(req, res)))
    .all(wrongMethod('GET'));

  router
    .route('/exports/:id')
    .delete(async (req, res) => {
      const job = await states.one(req.params.id);
      if (job.state === 'working') throw new BexlenError('conflict', 'This export is being made.', 'Cancel it first.');
      await states.remove(job.id);
      await fs.rm(exportPath(folder, job), { force: true });
      await forgetThumb(job);
      news.broadcast({ id: job.id }, 'removed');
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
      res.type(job.format === 'jpeg' ? 'image/jpeg' : 'image/png').download(exportPath(folder, job), job.fileName);
    })
    .all(wrongMethod('GET'));

  router
    .route('/exports/:id/thumb')
    .get(async (req, res) => {
      const job = await states.one(req.params.id);
      if (job.state !== 'done') throw noFile();
      const file = await derived(folder, THUMB, job.id, (to) => small(exportPath(folder, job)).toFile(to));
      res.set('Cache-Control', 'no-cache').type('image/jpeg').sendFile(file);
    })
    .all(wrongMethod('GET'));

  return router;
}

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
