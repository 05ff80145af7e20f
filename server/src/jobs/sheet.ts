import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { pictureSize } from '@bexlen/core';
import type { SheetWish } from '@bexlen/api';
import type { Folder } from '../folder';
import type { Db } from '../store/db';
import { photoRow } from '../store/photos';
import { make, type Watch } from '@bexlen/render/make/make';
import { printEdge, writeSheet, type Print } from '@bexlen/render/make/print';
import type { Stores } from './supplies';
import type { Workshop } from '@bexlen/render/pool/workshop';

/** Contact sheets: each picture is made by the engine as large as it is printed. */
export class Sheets {
  constructor(
    private readonly db: Db,
    private readonly folder: Folder,
    private readonly stores: Stores,
    private readonly workshop: Workshop,
    private readonly fonts: string,
  ) {}

  async make(sheet: SheetWish, to: string, watch: Watch): Promise<number> {
    const { cells } = sheet;
    const edge = printEdge(sheet);
    const folder = path.join(this.folder.unfinished, `sheet-${randomUUID()}`);
    await fs.mkdir(folder);
    try {
      const prints: Print[] = [];
      for (const [i, { photoId, stack, name, line }] of cells.entries()) {
        const photo = await photoRow(this.db, photoId);
        const file = path.join(folder, `${i}.jpg`);
        const progress = (share: number): void => watch.progress?.((i + share) / cells.length);
        const work = {
          source: await this.stores.source(photo),
          stack,
          wish: { format: 'jpeg', quality: 88, gamut: 'srgb' } as const,
          size: edge,
          to: file,
          supplies: this.stores.of(photo, false),
        };
        await make(this.workshop, work, { ...(watch.signal && { signal: watch.signal }), progress });
        prints.push({ file, ...pictureSize(stack.geometry, photo), name, line });
      }
      return await writeSheet(sheet, prints, to, this.fonts);
    } finally {
      await fs.rm(folder, { recursive: true, force: true });
    }
  }
}
