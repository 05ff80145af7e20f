import { BexlenError, echoed, readPam, PROXY_EDGE, proxyOf, type Cube } from '@bexlen/core';
import fs from 'node:fs/promises';
import type { Folder } from '../folder';
import type { Checks } from '../http/checks';
import type { Source } from '@bexlen/render/decode/decode';
import type { Decoders } from '../decoders/decoders';
import { loadCube } from '../store/cubes';
import type { Db } from '../store/db';
import { fittedFile, pixelsOnce, sourceOf } from '../store/originals';
import { photoRow, type PhotoRow } from '../store/photos';
import { paintingOf } from '../store/strokes';
import type { Supplies } from '@bexlen/render/make/make';

/** Where things lie that stacks name. */
export class Stores {
  constructor(
    private readonly db: Db,
    private readonly folder: Folder,
    private readonly decoders: Decoders,
    private readonly checks: Checks,
  ) {}

  /** What a photo's pixels are read from. */
  readonly source = (photo: PhotoRow): Promise<Source> => sourceOf(this.folder, this.decoders, photo);

  /** What a file carries over of an original. */
  readonly metadata: Decoders['metadata'] = (...of) => this.decoders.metadata(...of);

  readonly cube = (name: string): Promise<Cube> => loadCube(this.folder, this.checks, name);

  /** @param whole a picture of which strokes are lost is not made. */
  of(photo: PhotoRow, whole: boolean): Supplies {
    const { db, folder, decoders } = this;
    return {
      cube: this.cube,
      painting: async (name, layer) => {
        const { strokes, missing } = await paintingOf(db, name);
        if (missing === undefined || !whole) return strokes;
        throw new BexlenError(
          'not-found',
          `Strokes of “${echoed(layer)}” are not kept here.`,
          'Open the version, and paint them again or take that part out of its mask.',
        );
      },
      picture: async (name, edge, layer) => {
        const other = name === '' ? undefined : await photoRow(db, name).catch(() => undefined);
        if (other) {
          const { layout, pixels } = readPam(await pixelsOnce(folder, decoders, other, Math.max(16, edge)));
          return { layout, bytes: pixels };
        }
        if (!whole) return undefined;
        throw new BexlenError(
          'not-found',
          name === '' ? `No photo was chosen for “${echoed(layer)}”.` : `The photo of “${echoed(layer)}” is no longer on the shelf.`,
          'Open the version, and choose a photo there or switch the layer off.',
        );
      },
      proxy: async () => proxyOf(readPam(await fs.readFile(await fittedFile(folder, decoders, photo, PROXY_EDGE)))),
    };
  }
}
