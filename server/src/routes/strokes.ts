import { Router } from 'express';
import { z } from 'zod';
import { painting } from '@bexlen/api';
import { FOR_EVER } from '../http/caching';
import { wrongMethod } from '../http/faults';
import type { Db } from '../store/db';
import { paintingOf } from '../store/strokes';

const named = z.string().regex(/^[0-9a-f]{32}$/, 'A painting is named by 32 hexadecimal digits.');

export function strokeRoutes(db: Db): Router {
  const router = Router();
  router
    .route('/strokes/:name')
    .get(async (req, res) => {
      const found = await paintingOf(db, named.parse(req.params.name));
      if (found.missing === undefined) res.set('Cache-Control', FOR_EVER);
      res.json({ ...found, strokes: found.strokes.map(([, painted]) => painted) } satisfies z.infer<typeof painting>);
    })
    .all(wrongMethod('GET'));
  return router;
}
