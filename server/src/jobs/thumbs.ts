import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { isAsItCame, readPam, standOf, type Stack, type Stand, type TableSize } from '@bexlen/core';
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
import { make, pixelsOf } from '@bexlen/render/make/make';
import { tableText } from '@bexlen/render/make/table';
import type { OthersThumbs } from './thumb-jobs';
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

/** Long edge in pixels of the picture that tells where a photo stands. */
const STAND_EDGE = 256;

/** How long a small picture, or what is measured of one, may take. */
const MOST_MS = 30_000;

/** Small pictures of versions: made by the engine when they are first asked for, one at a time, the newest wish first, and kept until the version changes. */
export class Thumbs {
  private readonly shared = new Shared<string>();
  private readonly turns = new Turns(MOST_MS);

  constructor(
    private readonly db: Db,
    private readonly folder: Folder,
    private readonly decoders: Decoders,
    private readonly stores: Stores,
    private readonly workshop: Workshop,
    /** Other machines that make them; here they are made where none does. */
    private readonly others?: OthersThumbs,
  ) {}

  async of(versionId: string, signal?: AbortSignal): Promise<Thumb> {
    const { photoId, revision, stack } = await stackOf(this.db, versionId);
    const photo = await photoRow(this.db, photoId);
    if (stack.layers.length === 0 && isAsItCame(stack.geometry) && stack.development === undefined)
      return { file: await thumbFile(this.folder, this.decoders, photo), revision };
    const file = derivedPath(this.folder, photo.hash, nameOf(versionId, revision));
    if (await isThere(file)) return { file, revision };
    const made = await this.shared.ask(file, signal, async (wanted) => {
      const there = await this.others?.of({ hash: photo.hash, versionId, revision }, wanted);
      if (there !== undefined) return there;
      await this.turns.take(wanted, (within) => this.make(photo, stack, file, within));
      return file;
    });
    await this.forget(photo.hash, versionId, revision);
    return { file: made, revision };
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

  /** Where a picture of a photo with a stack stands. */
  async stand(photoId: string, stack: Stack, signal?: AbortSignal): Promise<Stand> {
    const photo = await photoRow(this.db, photoId);
    return this.turns.take(signal, async (within) => {
      const work = {
        source: await this.stores.source(photo),
        stack,
        supplies: this.stores.of(photo, false),
        fittedTo: this.fitting(photo),
        size: STAND_EDGE,
      };
      const { pixels, width } = await pixelsOf(this.workshop, work, 'rgba8', undefined, { signal: within });
      return standOf({ width, height: pixels.length / (4 * width), data: pixels });
    });
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
    const { folder } = this;
    const source = await this.stores.source(photo);
    const unfinished = path.join(folder.unfinished, `thumb-${randomUUID()}`);
    const fittedTo = this.fitting(photo);
    try {
      const wish = { format: 'jpeg', quality: 86, ground: 'grey' } as const;
      const supplies = this.stores.of(photo, false);
      await make(this.workshop, { source, stack, wish, size: THUMB_EDGE, to: unfinished, fittedTo, supplies }, { signal });
      await intoPlace(unfinished, to);
    } finally {
      await fs.rm(unfinished, { force: true });
    }
  }

  /** A photo's pixels, by what is kept of them. */
  private readonly fitting =
    (photo: PhotoRow) =>
    async (edge: number): Promise<Decoded> => {
      const { folder, decoders } = this;
      const known = EDGES.find((it) => it >= edge);
      const wish = { urgency: 'soon' } as const;
      return readPam(
        known
          ? await fs.readFile(await fittedFile(folder, decoders, photo, known, wish))
          : await pixelsOnce(folder, decoders, photo, edge, undefined, wish),
      );
    };

  /** Removes the pictures of earlier revisions. */
  private async forget(hash: string, versionId: string, before: number): Promise<void> {
    const own = path.basename(derivedPath(this.folder, hash, nameOf(versionId, '')));
    for (const name of await fs.readdir(this.folder.derived))
      if (name.startsWith(own) && Number.parseInt(name.slice(own.length)) < before)
        await fs.rm(path.join(this.folder.derived, name), { force: true });
  }
}

const nameOf = (versionId: string, revision: number | ''): string => `version-${versionId}-${revision === '' ? '' : `${revision}.jpg`}`;
