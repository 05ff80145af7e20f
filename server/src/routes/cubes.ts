import express, { Router } from 'express';
import { z } from 'zod';
import { cubeKept } from '../api';
import type { Folder } from '../folder';
import { wrongMethod } from '../http/faults';
import { cubeText, keepCube } from '../store/cubes';

const query = z.object({ name: z.string().trim().min(1, 'A file needs a name.').max(300) });
/** A lattice of 129 entries along a side, written with many digits. */
const LIMIT = '80mb';

export function cubeRoutes(folder: Folder): Router {
  const router = Router();
  router
    .route('/cubes')
    .post(express.text({ type: '*/*', limit: LIMIT }), async (req, res) => {
      const { name } = query.parse(req.query);
      const text = typeof req.body === 'string' ? req.body : '';
      res.status(201).json(cubeKept.parse({ name: await keepCube(folder, text, name) }));
    })
    .all(wrongMethod('POST'));
  router
    .route('/cubes/:name')
    .get(async (req, res) => void res.type('text/plain').send(await cubeText(folder, req.params.name)))
    .all(wrongMethod('GET'));
  return router;
}
