import fs from 'node:fs/promises';
import { Router } from 'express';
import { BexlenError } from '@bexlen/core';
import { imported, orphans } from '@bexlen/api';
import type { Folder } from '../folder';
import { wrongMethod } from '../http/faults';
import type { Decoders } from '../decoders/decoders';
import { importPhoto } from '../importer';
import type { Db } from '../store/db';
import { allOrphans, orphanFile } from '../store/orphans';
import { photoById } from '../store/photos';

/** Originals without a photo: taken back to the shelf, or thrown away. */
export function orphanRoutes(db: Db, folder: Folder, decoders: Decoders): Router {
  const router = Router();
  const fileOf = async (id: string): Promise<string> => {
    const file = await orphanFile(folder, id);
    if (file === undefined) throw new BexlenError('not-found', 'This original is not here any more.', 'Look at the shelf again.');
    return file;
  };
  router
    .route('/orphans')
    .get(async (_req, res) => {
      res.json(orphans.parse({ orphans: await allOrphans(folder) }));
    })
    .all(wrongMethod('GET'));
  router
    .route('/orphans/:id')
    .delete(async (req, res) => {
      await fs.rm(await fileOf(req.params.id));
      res.status(204).end();
    })
    .all(wrongMethod('DELETE'));
  router
    .route('/orphans/:id/take')
    .post(async (req, res) => {
      const file = await fileOf(req.params.id);
      const { id, known, notes } = await importPhoto(db, folder, decoders, file, 'Found again');
      await fs.rm(file, { force: true });
      res.status(known ? 200 : 201).json(imported.parse({ photo: await photoById(db, folder, id), known, notes }));
    })
    .all(wrongMethod('POST'));
  return router;
}
