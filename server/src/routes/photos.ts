import express, { Router } from 'express';
import { z } from 'zod';
import { BexlenError, PAM_TYPE, type Stack } from '@bexlen/core';
import { photoChange, PIXEL_EDGES, shelfWish, type Named, type NewVersion } from '@bexlen/api';
import type { Folder } from '../folder';
import { FOR_EVER } from '../http/caching';
import { untilGone } from '../http/gone';
import type { Checks } from '../http/checks';
import { wrongMethod } from '../http/faults';
import { knownId } from '../http/params';
import type { Decoders } from '../decoders/decoders';
import type { Thumbs } from '../jobs/thumbs';
import type { Db } from '../store/db';
import { fittedFile, forgetOriginal, pixelsOnce, thumbFile } from '../store/originals';
import { changePhoto, photoById, photoRow, removePhoto } from '../store/photos';
import { shelfPage } from '../store/shelf';
import { addVersion, versionById } from '../store/versions';

const edge = z.object({ edge: z.coerce.number().pipe(z.union(PIXEL_EDGES.map((e) => z.literal(e)) as never)) }) as z.ZodType<{ edge: number }>;
const px = z.coerce.number().int().min(0).max(65535);
/** A rectangle of the photo, in its own pixels, and the long edge that it is to fit. */
const partQuery = z.object({ x: px, y: px, w: px.min(1), h: px.min(1), edge: px.min(16) });

export function photoRoutes(db: Db, folder: Folder, decoders: Decoders, checks: Checks, thumbs: Thumbs): Router {
  const router = Router();
  router.param('id', knownId);

  router
    .route('/photos')
    .get(async (req, res) => void res.json(await shelfPage(db, folder, shelfWish.parse(req.query))))
    .all(wrongMethod('GET'));

  router
    .route('/photos/:id')
    .get(async (req, res) => void res.json(await photoById(db, folder, req.params.id)))
    .patch(express.json(), async (req, res) => {
      await changePhoto(db, req.params.id, photoChange.parse(req.body));
      res.json(await photoById(db, folder, req.params.id));
    })
    .delete(async (req, res) => {
      await forgetOriginal(folder, await removePhoto(db, req.params.id, req.query['anyway'] === '1'));
      res.status(204).end();
    })
    .all(wrongMethod('GET', 'PATCH', 'DELETE'));

  router
    .route('/photos/:id/thumb')
    .get(async (req, res) => {
      const file = await thumbFile(folder, decoders, await photoRow(db, req.params.id));
      res.set('Cache-Control', FOR_EVER).type('image/jpeg').sendFile(file);
    })
    .all(wrongMethod('GET'));

  router
    .route('/photos/:id/pixels')
    .get(async (req, res) => {
      const row = await photoRow(db, req.params.id);
      if (req.query['w'] !== undefined) {
        const { edge: most, ...part } = partQuery.parse(req.query);
        if (part.x + part.w > row.width || part.y + part.h > row.height)
          throw new BexlenError('bad-request', 'This rectangle hangs over the photo.', `The photo has ${row.width} x ${row.height} pixels.`);
        const pixels = await pixelsOnce(folder, decoders, row, most, part, { urgency: 'seen', signal: untilGone(res) });
        return void res.set('Cache-Control', FOR_EVER).type(PAM_TYPE).send(pixels);
      }
      const { edge: longest } = edge.parse(req.query);
      const file = await fittedFile(folder, decoders, row, longest, { urgency: 'seen', signal: untilGone(res) });
      res.set('Cache-Control', FOR_EVER).type(PAM_TYPE).sendFile(file);
    })
    .all(wrongMethod('GET'));

  router
    .route('/photos/:id/picture')
    .post(checks.body('picture'), async (req, res) => {
      const jpeg = await thumbs.picture(req.params.id, (req.body as { stack: Stack }).stack, untilGone(res));
      res.set('Cache-Control', 'no-store').type('image/jpeg').send(jpeg);
    })
    .all(wrongMethod('POST'));

  router
    .route('/photos/:id/versions')
    .post(checks.body('new-version'), async (req, res) => {
      const id = await addVersion(db, req.params.id, req.body as Named<NewVersion>);
      res.status(201).json(await versionById(db, id));
    })
    .all(wrongMethod('POST'));

  return router;
}
