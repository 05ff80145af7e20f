import { randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import fs from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { DataStore, ERRORS, Upload } from '@tus/utils';
import type { Objects } from './objects';

const INFO = 'info';
/** Digits of where a part begins, so that their names are in order. */
const DIGITS = 15;

/** Uploads as objects: what each connection brought is one, called by where it begins, so that the next one may go on by any process, and one that was cut off counts as far as it came. */
export class PartsStore extends DataStore {
  /**
   * @param unfinished a folder for what is coming just now.
   * @param keptMs how long an upload is kept that nobody goes on with.
   */
  constructor(
    private readonly objects: Objects,
    private readonly unfinished: string,
    private readonly keptMs: number,
  ) {
    super();
    this.extensions = ['creation', 'creation-with-upload', 'termination', 'expiration'];
  }

  override async create(upload: Upload): Promise<Upload> {
    const { id, size, metadata, creation_date } = upload;
    await this.kept(`uploads/${id}/${INFO}`, (file) => fs.writeFile(file, JSON.stringify({ id, size, metadata, creation_date })));
    return upload;
  }

  override async write(coming: Readable, id: string, offset: number): Promise<number> {
    let broken: unknown;
    const bytes = await this.kept(`uploads/${id}/${String(offset).padStart(DIGITS, '0')}`, async (file) => {
      await pipeline(coming, createWriteStream(file, { mode: 0o600 })).catch((error: unknown) => (broken = error));
    });
    if (broken !== undefined) throw ERRORS.FILE_WRITE_ERROR;
    return offset + bytes;
  }

  override async getUpload(id: string): Promise<Upload> {
    const file = await this.objects.file(`uploads/${id}/${INFO}`);
    if (file === undefined) throw ERRORS.FILE_NOT_FOUND;
    const info = JSON.parse(await fs.readFile(file, 'utf8')) as ConstructorParameters<typeof Upload>[0];
    const { bytes } = await this.parts(id);
    return new Upload({ ...info, id, offset: bytes });
  }

  /** All that has come of an upload, in order. */
  async read(id: string): Promise<Readable> {
    const { keys } = await this.parts(id);
    const { objects } = this;
    return Readable.from(
      (async function* () {
        for (const key of keys) {
          const file = await objects.file(key);
          if (file === undefined) throw ERRORS.FILE_NO_LONGER_EXISTS;
          yield* createReadStream(file) as AsyncIterable<Buffer>;
        }
      })(),
    );
  }

  override async remove(id: string): Promise<void> {
    const keys = [];
    for await (const { key } of this.objects.list(`uploads/${id}`)) keys.push(key);
    if (keys.length === 0) throw ERRORS.FILE_NOT_FOUND;
    // What says that it is there goes last.
    for (const key of keys.sort()) await this.objects.remove(key);
  }

  /** The names of all uploads. */
  async ids(): Promise<string[]> {
    const ids = new Set<string>();
    for await (const { key } of this.objects.list('uploads')) ids.add(key.split('/')[1] as string);
    return [...ids];
  }

  override async deleteExpired(): Promise<number> {
    let removed = 0;
    for (const id of await this.ids()) {
      const upload = await this.getUpload(id).catch(() => undefined);
      if (upload?.creation_date && Date.now() - Date.parse(upload.creation_date) < this.keptMs) continue;
      await this.remove(id);
      removed++;
    }
    return removed;
  }

  override getExpiration(): number {
    return this.keptMs;
  }

  /** The parts that follow each other without a gap, and what they come to. */
  private async parts(id: string): Promise<{ keys: string[]; bytes: number }> {
    const all = [];
    for await (const part of this.objects.list(`uploads/${id}`)) if (!part.key.endsWith(`/${INFO}`)) all.push(part);
    all.sort((a, b) => (a.key < b.key ? -1 : 1));
    const keys: string[] = [];
    let bytes = 0;
    for (const part of all) {
      if (Number(path.posix.basename(part.key)) !== bytes) break;
      keys.push(part.key);
      bytes += part.bytes;
    }
    return { keys, bytes };
  }

  /** Keeps what is written as an object, unless that is nothing. Returns how many bytes it is. */
  private async kept(key: string, write: (file: string) => Promise<void>): Promise<number> {
    const file = path.join(this.unfinished, `coming-${randomUUID()}`);
    try {
      await write(file);
      const { size } = await fs.stat(file);
      if (size > 0) await this.objects.keep(key, file);
      return size;
    } finally {
      await fs.rm(file, { force: true });
    }
  }
}
