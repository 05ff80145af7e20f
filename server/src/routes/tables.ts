import { Router, type Response } from 'express';
import { z } from 'zod';
import { plainName, TABLE_SIZES, type Stack, type TableSize } from '@bexlen/core';
import { wrongMethod } from '../http/faults';
import { knownId } from '../http/params';
import type { Thumbs } from '../jobs/thumbs';
import type { Db } from '../store/db';
import type { Looks } from '../store/looks';
import { photoRow } from '../store/photos';
import { stackOf } from '../store/versions';

const query = z.object({ size: z.coerce.number().pipe(z.union(TABLE_SIZES.map((size) => z.literal(size)) as never)) }) as z.ZodType<{
  size: TableSize;
}>;
/** Colour tables of versions and looks, as files. */
export function tableRoutes(db: Db, looks: Looks, thumbs: Thumbs): Router {
  const router = Router();
  router.param('id', knownId);
  const send = async (res: Response, stack: Stack, title: string, size: TableSize): Promise<void> => {
    const text = await thumbs.table(stack, title, size);
    res
      .attachment(`${plainName(title)}.cube`)
      .type('text/plain')
      .send(text);
  };
  router
    .route('/versions/:id/table')
    .get(async (req, res) => {
      const { photoId, name, stack } = await stackOf(db, req.params.id);
      await send(res, stack, `${(await photoRow(db, photoId)).name} - ${name}`, query.parse(req.query).size);
    })
    .all(wrongMethod('GET'));
  router
    .route('/looks/:id/table')
    .get(async (req, res) => {
      const { name, stack } = await looks.one(req.params.id);
      await send(res, stack, name, query.parse(req.query).size);
    })
    .all(wrongMethod('GET'));
  return router;
}
