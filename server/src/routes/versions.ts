import express, { Router } from 'express';
import { kept, versionName, type Named, type VersionChange } from '@bexlen/api';
import { FOR_EVER } from '../http/caching';
import { untilGone } from '../http/gone';
import type { Checks } from '../http/checks';
import { wrongMethod } from '../http/faults';
import type { News } from '../http/news';
import { knownId } from '../http/params';
import type { Thumbs } from '../jobs/thumbs';
import type { Db } from '../store/db';
import { changeVersion, renameVersion, versionById } from '../store/versions';

export function versionRoutes(db: Db, thumbs: Thumbs, checks: Checks, news: News): Router {
  const router = Router();
  router.param('id', knownId);
  router
    .route('/versions/:id')
    .get(async (req, res) => void res.json(await versionById(db, req.params.id)))
    .put(checks.body('version-change'), async (req, res) => {
      const revision = await changeVersion(db, req.params.id, req.body as Named<VersionChange>);
      res.json(kept.parse({ revision }));
      news.tell('version', { id: req.params.id, revision });
    })
    .patch(express.json(), async (req, res) => {
      await renameVersion(db, req.params.id, versionName.parse(req.body).name);
      res.json(await versionById(db, req.params.id));
    })
    .all(wrongMethod('GET', 'PUT', 'PATCH'));

  router
    .route('/versions/:id/thumb')
    .get(async (req, res) => {
      const { file, revision } = await thumbs.of(req.params.id, untilGone(res));
      const lasting = req.query['revision'] === String(revision);
      res
        .set('Cache-Control', lasting ? FOR_EVER : 'no-store')
        .type('image/jpeg')
        .sendFile(file);
    })
    .all(wrongMethod('GET'));
  return router;
}
