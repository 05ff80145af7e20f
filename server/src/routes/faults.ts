import express, { Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import { pageFault } from '@bexlen/api';
import { wrongMethod } from '../http/faults';
import type { Log } from '../log';

/** So many faults of pages are written down in a minute. */
const MOST = 30;

/** Faults of pages, for the log. */
export function faultRoutes(log: Log): Router {
  const router = Router();
  router
    .route('/faults')
    .post(
      rateLimit({ windowMs: 60_000, limit: MOST, keyGenerator: () => 'all', standardHeaders: false, legacyHeaders: false }),
      express.json(),
      (req, res) => {
        log.warn({ fault: pageFault.parse(req.body) }, 'a page could not go on');
        res.status(204).end();
      },
    )
    .all(wrongMethod('POST'));
  return router;
}
