import express, { Router } from 'express';
import { z } from 'zod';
import { keptText, MOST_CUBE_TEXT } from '@bexlen/core';
import { cubeKept } from '@bexlen/api';
import type { Folder } from '../folder';
import type { Checks } from '../http/checks';
import { wrongMethod } from '../http/faults';
import { cubeText, keepCube } from '../store/cubes';

const query = z.object({ name: keptText(z.string()).trim().min(1, 'A file needs a name.').max(300) });

export function cubeRoutes(folder: Folder, checks: Checks): Router {
  const router = Router();
  router
    .route('/cubes')
    .post(express.text({ type: '*/*', limit: MOST_CUBE_TEXT }), async (req, res) => {
      const { name } = query.parse(req.query);
      const text = typeof req.body === 'string' ? req.body : '';
      await checks.cube(text);
      res.status(201).json(cubeKept.parse({ name: await keepCube(folder, text, name) }));
    })
    .all(wrongMethod('POST'));
  router
    .route('/cubes/:name')
    .get(async (req, res) => {
      const text = await cubeText(folder, req.params.name);
      res.type('text/plain').send(text);
    })
    .all(wrongMethod('GET'));
  return router;
}
