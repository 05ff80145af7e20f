import { pipeline } from 'node:stream/promises';
import express, { Router } from 'express';
import { BexlenError, folderOfLook, LONGEST_LOOK, lookFolder } from '@bexlen/core';
import { lookbook, lookChange, lookOrder, lookPage, looksImported, putVersions, versionsGone } from '@bexlen/api';
import { writeZip } from '@bexlen/render/files/zips';
import type { Checks } from '../http/checks';
import { wrongMethod } from '../http/faults';
import { untilGone } from '../http/gone';
import { knownId } from '../http/params';
import { fileOf, filesOf } from '../looks/archive';
import type { Thumbs } from '../jobs/thumbs';
import type { Db } from '../store/db';
import { removeFresh, type Looks } from '../store/looks';

const MOST_ARCHIVE = 32e6;

export function lookRoutes(db: Db, looks: Looks, checks: Checks, thumbs: Thumbs): Router {
  const router = Router();
  router.param('id', knownId);

  router
    .route('/looks')
    .get(async (req, res) => void res.json(lookbook.parse(await looks.page(lookPage.parse(req.query).after))))
    .post(express.raw({ type: '*/*', limit: Math.max(MOST_ARCHIVE, LONGEST_LOOK) }), async (req, res) => {
      const read = await checks.looks(Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0));
      const answer = read.faults.length > 0 ? { added: [], faults: read.faults } : await looks.add(read.looks);
      res.status(answer.faults.length > 0 ? 422 : 201).json(looksImported.parse(answer));
    })
    .all(wrongMethod('GET', 'POST'));

  router
    .route('/looks/archive')
    .get(async (req, res) => {
      const folder = req.query['folder'] === undefined ? undefined : lookFolder.parse(req.query['folder']);
      const all = (await looks.all()).filter(
        ({ own, file }) => own && (folder === undefined || folderOfLook(file as { folder?: string }) === folder),
      );
      if (all.length === 0) throw new BexlenError('not-found', 'There is no look of your own to send.', 'Take one from a version first.');
      const files = filesOf(await Promise.all(all.map(({ id }) => looks.whole(id))));
      res.attachment(`${folder ?? 'Looks'}.zip`).type('application/zip');
      await pipeline(writeZip(files), res);
    })
    .all(wrongMethod('GET'));

  router
    .route('/looks/:id')
    .patch(express.json(), async (req, res) => {
      await looks.change(req.params.id, lookChange.parse(req.body));
      res.status(204).end();
    })
    .delete(async (req, res) => {
      await looks.remove(req.params.id);
      res.status(204).end();
    })
    .all(wrongMethod('PATCH', 'DELETE'));

  router
    .route('/looks/:id/file')
    .get(async (req, res) => {
      const { name, text } = fileOf(await looks.whole(req.params.id));
      res.attachment(name).type('application/json').send(text);
    })
    .all(wrongMethod('GET'));

  router
    .route('/looks/:id/put')
    .post(express.json({ limit: '1mb' }), async (req, res) => {
      const versions = await looks.putOn(req.params.id, lookOrder.parse(req.body), (photoId, stack) => thumbs.stand(photoId, stack, untilGone(res)));
      res.status(201).json(putVersions.parse({ versions }));
    })
    .all(wrongMethod('POST'));

  router
    .route('/versions/remove')
    .post(express.json({ limit: '1mb' }), async (req, res) => void res.json(await removeFresh(db, versionsGone.parse(req.body).ids)))
    .all(wrongMethod('POST'));

  return router;
}
