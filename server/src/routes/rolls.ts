import express, { Router } from 'express';
import { newRollWish, rollChange, rollMove, rolls } from '@bexlen/api';
import { wrongMethod } from '../http/faults';
import { knownId } from '../http/params';
import type { Db } from '../store/db';
import { allRolls, dropRoll, moveToRoll, newRoll, renameRoll } from '../store/rolls';

/** Folders of the shelf. */
export function rollRoutes(db: Db): Router {
  const router = Router();
  router.param('id', knownId);
  router
    .route('/rolls')
    .get(async (_req, res) => void res.json(rolls.parse({ rolls: await allRolls(db) })))
    .post(express.json(), async (req, res) => {
      const { name, photos } = newRollWish.parse(req.body);
      const id = await newRoll(db, name);
      await moveToRoll(db, photos, id);
      res.status(201).json(rolls.parse({ rolls: await allRolls(db) }));
    })
    .all(wrongMethod('GET', 'POST'));
  router
    .route('/rolls/move')
    .post(express.json({ limit: '1mb' }), async (req, res) => {
      const { photos, rollId } = rollMove.parse(req.body);
      await moveToRoll(db, photos, rollId);
      res.status(204).end();
    })
    .all(wrongMethod('POST'));
  router
    .route('/rolls/:id')
    .patch(express.json(), async (req, res) => {
      await renameRoll(db, req.params.id, rollChange.parse(req.body).name);
      res.status(204).end();
    })
    .delete(async (req, res) => {
      await dropRoll(db, req.params.id);
      res.status(204).end();
    })
    .all(wrongMethod('PATCH', 'DELETE'));
  return router;
}
