import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { isAsItCame, readPam, type Stack, type TableSize } from '@bexlen/core';
import { PIXEL_EDGES, THUMB_EDGE, type Estimate, type FileWish } from '@bexlen/api';
import type { Folder } from '../folder';
import type { Decoded } from '@bexlen/render/decode/decode';
import type { Decoders } from '../decoders/decoders';
import type { Db } from '../store/db';
import { intoPlace } from '../files/durable';
import type { Metadata } from '@bexlen/render/decode/metadata';
import { derivedPath, fittedFile, isThere, pixelsOnce, thumbFile } from '../store/originals';
import { photoRow, type PhotoRow } from '../store/photos';
import { stackOf } from '../store/versions';
import { estimateOf } from './estimate';
import { make } from '@bexlen/render/make/make';
import { tableText } from '@bexlen/render/make/table';
import type { Stores } from './supplies';
import { Shared } from './shared';
import { Turns } from './turns';
import type { Workshop } from '@bexlen/render/pool/workshop';

type Size = Parameters<Decoders['metadata']>[2];

/** Sizes at which decoded pixels are kept. */
const EDGES = [THUMB_EDGE, ...PIXEL_EDGES].sort((a, b) => a - b);

/** A small picture of a version, as it is at a revision. */
export interface Thumb {
  readonly file: string;
  readonly revision: number;
}

/** How long a small picture, or what is measured of one, may take. */
const MOST_MS = 30_000;

/** Small pictures of versions: made by the engine when they are first asked for, one at a time, the newest wish first, and kept until the version changes. */
export class Thumbs {
  private readonly shared = new Shared<void>();
  private readonly turns = new Turns(MOST_MS);

  constructor(
    private readonly db: Db,
    private readonly folder: Folder,
    private readonly decoders: Decoders,
    private readonly stores: Stores,
    private readonly workshop: Workshop,
  ) {}

  async of(versionId: string, signal?: AbortSignal): Promise<Thumb> {
    const { photoId, revision, stack } = await stackOf(this.db, versionId);
    const photo = await photoRow(this.db, photoId);
    if (stack.layers.length === 0 && isAsItCame(stack.geometry) && stack.development === undefined)
      return { file: await thumbFile(this.folder, this.decoders, photo), revision };
    const file = derivedPath(this.folder, photo.hash, nameOf(versionId, revision));
    if (await isThere(file)) return { file, revision };
    await this.shared.ask(file, signal, (wanted) => this.turns.take(wanted, (within) => this.make(photo, stack, file, within)));
    await this.forget(photo.hash, versionId, revision);
    return { file, revision };
  }

  /** A picture of a photo with a stack, as a JPEG. */
  async picture(photoId: string, stack: Stack, signal?: AbortSignal): Promise<Buffer> {
    const photo = await photoRow(this.db, photoId);
    const file = path.join(this.folder.unfinished, `picture-${randomUUID()}`);
    try {
      await this.turns.take(signal, (within) => this.make(photo, stack, file, within));
      return await fs.readFile(file);
    } finally {
      await fs.rm(file, { force: true });
    }
  }

  /** About how large a file of a version will be. */
  async estimate(versionId: string, wish: FileWish, signal?: AbortSignal): Promise<Estimate> {
    const { photoId, stack } = await stackOf(this.db, versionId);
    const photo = await photoRow(this.db, photoId);
    const source = await this.stores.source(photo);
    const metadata = (size: Size): Promise<Metadata> => this.decoders.metadata(source.original ?? source.file, wish.metadata, size);
    return this.turns.take(signal, (within) =>
      estimateOf(this.workshop, { source, stack, photo, supplies: this.stores.of(photo, false), metadata }, wish, { signal: within }),
    );
  }

  /** A colour table of what a stack does to colours, as a .cube file. */
  table(stack: Stack, title: string, size: TableSize): Promise<string> {
    return this.turns.take(undefined, () => tableText(this.workshop, stack, title, size, this.stores.cube));
  }

  async close(): Promise<void> {
    await this.turns.close();
    await this.workshop.close();
  }

  private async make(photo: PhotoRow, stack: Stack, to: string, signal: AbortSignal): Promise<void> {
    const { folder, decoders } = this;
    const source = await this.stores.source(photo);
    const unfinished = path.join(folder.unfinished, `thumb-${randomUUID()}`);
    const fittedTo = async (edge: number): Promise<Decoded> => {
      const known = EDGES.find((it) => it >= edge);
      const wish = { urgency: 'soon' } as const;
      return readPam(
        known
          ? await fs.readFile(await fittedFile(folder, decoders, photo, known, wish))
          : await pixelsOnce(folder, decoders, photo, edge, undefined, wish),
      );
    };
    try {
      const wish = { format: 'jpeg', quality: 86, ground: 'grey' } as const;
      const supplies = this.stores.of(photo, false);
      await make(this.workshop, { source, stack, wish, size: THUMB_EDGE, to: unfinished, fittedTo, supplies }, { signal });
      await intoPlace(unfinished, to);
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
