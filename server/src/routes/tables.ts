import os from 'node:os';
import path from 'node:path';
import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import express, { Router, type Response } from 'express';
import { z } from 'zod';
import { plainName, TABLE_SIZES, type Stack, type TableSize } from '@bexlen/core';
import { pages } from '@bexlen/api';
import { wrongMethod } from '../http/faults';
import { knownId } from '../http/params';
import { writeList } from '@bexlen/render/make/print';
import type { Thumbs } from '../jobs/thumbs';
import type { Db } from '../store/db';
import type { Looks } from '../store/looks';
import { photoRow } from '../store/photos';
import { stackOf } from '../store/versions';

const query = z.object({ size: z.coerce.number().pipe(z.union(TABLE_SIZES.map((size) => z.literal(size)) as never)) }) as z.ZodType<{
  size: TableSize;
}>;
const list = z.strictObject({
  title: z.string().min(1).max(60),
  page: z.enum(pages.map(({ id }) => id)),
  lines: z.array(z.tuple([z.string().max(40), z.string().max(120)])).max(200),
});

/** Colour tables of versions and looks, as files; and a list of keys on paper. */
export function tableRoutes(db: Db, looks: Looks, thumbs: Thumbs, fonts: string): Router {
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
  router
    .route('/lists')
    .post(express.json(), async (req, res) => {
      const { title, page, lines } = list.parse(req.body);
      const file = path.join(os.tmpdir(), `bexlen-${randomUUID()}.pdf`);
      try {
        await writeList(title, lines, page, file, fonts);
        res
          .attachment(`${title}.pdf`)
          .type('application/pdf')
          .send(await fs.readFile(file));
      } finally {
        await fs.rm(file, { force: true });
      }
    })
    .all(wrongMethod('POST'));
  return router;
}
