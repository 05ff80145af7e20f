import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { pictureSize } from '@bexlen/core';
import type { SheetWish } from '@bexlen/api';
import type { Folder } from '../folder';
import type { Db } from '../store/db';
import { photoRow } from '../store/photos';
import type { Watch } from '@bexlen/render/make/make';
import { printed, type Cell } from '@bexlen/render/make/print';
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

  /** Makes a sheet as a PDF. Returns the bytes written. */
  async make(sheet: SheetWish, to: string, watch: Watch): Promise<number> {
    const cells: Cell[] = [];
    for (const { photoId, stack, name, line } of sheet.cells) {
      const photo = await photoRow(this.db, photoId);
      const work = { source: await this.stores.source(photo), stack, supplies: this.stores.of(photo, false) };
      cells.push({ work, ...pictureSize(stack.geometry, photo), name, line });
    }
    const folder = path.join(this.folder.unfinished, `sheet-${randomUUID()}`);
    await fs.mkdir(folder);
    try {
      return await printed(this.workshop, sheet, cells, to, { folder, fonts: this.fonts, watch });
    } finally {
      await fs.rm(folder, { recursive: true, force: true });
    }
  }
}
