import express, { Router } from 'express';
import { kept, versionChange, versionName } from '../api';
import { wrongMethod } from '../http/faults';
import type { Db } from '../store/db';
import { changeVersion, renameVersion, versionById } from '../store/versions';

export function versionRoutes(db: Db): Router {
  const router = Router();
  router
    .route('/versions/:id')
    .get(async (req, res) => void res.json(await versionById(db, req.params.id)))
    .put(express.json({ limit: '16mb' }), async (req, res) => {
      const revision = await changeVersion(db, req.params.id, versionChange.parse(req.body));
      res.json(kept.parse({ revision }));
    })
    .patch(express.json(), async (req, res) => {
      await renameVersion(db, req.params.id, versionName.parse(req.body).name);
      res.json(await versionById(db, req.params.id));
    })
    .all(wrongMethod('GET', 'PUT', 'PATCH'));
  return router;
}
