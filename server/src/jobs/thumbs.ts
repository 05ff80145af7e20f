import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { isAsItCame, readPam, type Stack, type TableSize } from '@bexlen/core';
import { PIXEL_EDGES, THUMB_EDGE, type Estimate, type FileWish } from '../api';
import type { Folder } from '../folder';
import type { Decoded } from '../images/decode';
import type { Readers } from '../images/readers';
import type { Db } from '../store/db';
import { derivedPath, fittedFile, pixelsOnce, thumbFile } from '../store/originals';
import { photoRow, type PhotoRow } from '../store/photos';
import { stackOf } from '../store/versions';
import { estimateOf } from './estimate';
import { make } from './make';
import { tableText } from './table';
import type { Stores } from './supplies';
import type { Workshop } from './workshop';

/** Sizes at which decoded pixels are kept. */
const EDGES = [THUMB_EDGE, ...PIXEL_EDGES].sort((a, b) => a - b);

/** A small picture of a version, as it is at a revision. */
export interface Thumb {
  readonly file: string;
  readonly revision: number;
}

/** Small pictures of versions: made by the engine when they are first asked for, one at a time, and kept until the version changes. */
export class Thumbs {
  private readonly underWay = new Map<string, Promise<void>>();
  private last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly db: Db,
    private readonly folder: Folder,
    private readonly readers: Readers,
    private readonly stores: Stores,
    private readonly workshop: Workshop,
  ) {}

  async of(versionId: string): Promise<Thumb> {
    const { photoId, revision, stack } = await stackOf(this.db, versionId);
    const photo = await photoRow(this.db, photoId);
    if (stack.layers.length === 0 && isAsItCame(stack.geometry)) return { file: await thumbFile(this.folder, this.readers, photo), revision };
    const file = derivedPath(this.folder, photo.hash, nameOf(versionId, revision));
    const there = await fs.stat(file).catch(() => undefined);
    if (there) return { file, revision };
    const making = this.underWay.get(file) ?? this.inTurn(() => this.make(photo, stack, file));
    this.underWay.set(file, making);
    await making.finally(() => this.underWay.delete(file));
    await this.forget(photo.hash, versionId, revision);
    return { file, revision };
  }

  /** A picture of a photo with a stack, as a JPEG. */
  async picture(photoId: string, stack: Stack): Promise<Buffer> {
    const photo = await photoRow(this.db, photoId);
    const file = path.join(this.folder.unfinished, `picture-${randomUUID()}`);
    try {
      await this.inTurn(() => this.make(photo, stack, file));
      return await fs.readFile(file);
    } finally {
      await fs.rm(file, { force: true });
    }
  }

  /** About how large a file of a version will be. */
  async estimate(versionId: string, wish: FileWish): Promise<Estimate> {
    const { photoId, stack } = await stackOf(this.db, versionId);
    const photo = await photoRow(this.db, photoId);
    const source = await this.stores.source(photo);
    return this.inTurn(() => estimateOf(this.workshop, { source, stack, photo, supplies: this.stores.of(photo, false) }, wish));
  }

  /** A colour table of what a stack does to colours, as a .cube file. */
  table(stack: Stack, title: string, size: TableSize): Promise<string> {
    return this.inTurn(() => tableText(this.workshop, stack, title, size, this.stores.cube));
  }

  async close(): Promise<void> {
    await this.last;
    await this.workshop.close();
  }

  private inTurn<T>(act: () => Promise<T>): Promise<T> {
    const next = this.last.then(act);
    this.last = next.catch(() => undefined);
    return next;
  }

  private async make(photo: PhotoRow, stack: Stack, to: string): Promise<void> {
    const { folder, readers } = this;
    const source = await this.stores.source(photo);
    const unfinished = path.join(folder.unfinished, `thumb-${randomUUID()}`);
    const fittedTo = async (edge: number): Promise<Decoded> => {
      const known = EDGES.find((it) => it >= edge);
      return readPam(known ? await fs.readFile(await fittedFile(folder, readers, photo, known)) : await pixelsOnce(folder, readers, photo, edge));
    };
    try {
      const wish = { format: 'jpeg', quality: 86 } as const;
      await make(this.workshop, {
        source,
        stack,
        wish,
        size: THUMB_EDGE,
        to: unfinished,
        fittedTo,
        supplies: this.stores.of(photo, false),
      });
      await fs.rename(unfinished, to);
    } finally {
      await fs.rm(unfinished, { force: true });
    }
  }

  /** Removes the pictures of earlier revisions. */
  private async forget(hash: string, versionId: string, before: number): Promise<void> {
    const own = path.basename(derivedPath(this.folder, hash, nameOf(versionId, '')));
    for (const name of await fs.readdir(this.folder.derived))
      if (name.startsWith(own) && Number.parseInt(name.slice(own.length)) < before)
        await fs.rm(path.join(this.folder.derived, name), { force: true });
  }
}

const nameOf = (versionId: string, revision: number | ''): string => `version-${versionId}-${revision === '' ? '' : `${revision}.jpg`}`;
