import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';

/** A file is left alone for so long after it was asked for: whoever did is still reading it. */
const IN_USE_MS = 600_000;

interface Entry {
  readonly file: string;
  readonly bytes: number;
  usedAt: number;
}

/** Files of a store that were fetched lately: those not asked for the longest go first when the room is used up. */
export class Cache {
  private readonly entries = new Map<string, Entry>();
  private total = 0;

  private constructor(
    private readonly folder: string,
    private readonly most: number,
  ) {}

  /** With what an earlier process has left, the oldest first. */
  static async open(folder: string, most: number): Promise<Cache> {
    const cache = new Cache(folder, most);
    await fs.mkdir(folder, { recursive: true, mode: 0o700 });
    const entries = await fs.readdir(folder, { recursive: true, withFileTypes: true });
    const found: [string, Entry][] = [];
    for (const { parentPath, name } of entries.filter((entry) => entry.isFile())) {
      const file = path.join(parentPath, name);
      if (UNFINISHED.test(name)) await fs.rm(file, { force: true });
      else {
        const { size, mtimeMs } = await fs.stat(file);
        found.push([path.relative(folder, file).split(path.sep).join('/'), { file, bytes: size, usedAt: mtimeMs }]);
      }
    }
    for (const [key, entry] of found.sort(([, a], [, b]) => a.usedAt - b.usedAt)) cache.enter(key, { ...entry, usedAt: 0 });
    await cache.makeRoom(0);
    return cache;
  }

  /** The file of a name, if it is here: whole, for somebody may have tidied up on this machine. */
  async has(key: string): Promise<string | undefined> {
    const entry = this.entries.get(key);
    if (!entry) return undefined;
    const { size } = await fs.stat(entry.file).catch(() => ({ size: -1 }));
    if (size !== entry.bytes) return void (await this.remove(key));
    // The order of a map is that of the last use.
    this.entries.delete(key);
    this.entries.set(key, entry);
    entry.usedAt = performance.now();
    return entry.file;
  }

  /** Has a file written that will be so large. Where the disk is full, all goes that is not in use, and it is tried once more. */
  async take(key: string, bytes: number, write: (to: string) => Promise<void>): Promise<string> {
    await this.makeRoom(bytes);
    const to = path.join(this.folder, key);
    const unfinished = `${to}.${randomUUID()}.part`;
    await fs.mkdir(path.dirname(to), { recursive: true, mode: 0o700 });
    try {
      await write(unfinished);
      await fs.rename(unfinished, to);
    } catch (error) {
      await fs.rm(unfinished, { force: true });
      if ((error as { code?: string }).code === 'ENOSPC') await this.makeRoom(this.most);
      throw error;
    }
    this.enter(key, { file: to, bytes, usedAt: performance.now() });
    return to;
  }

  /** Moves a file into the cache; where there is no room, it goes. */
  async keep(key: string, file: string): Promise<void> {
    const { size } = await fs.stat(file);
    await this.take(key, size, async (to) => {
      await fs.rename(file, to).catch(() => fs.copyFile(file, to));
    }).catch(() => undefined);
    await fs.rm(file, { force: true });
  }

  async remove(key: string): Promise<void> {
    const entry = this.entries.get(key);
    if (!entry) return;
    this.entries.delete(key);
    this.total -= entry.bytes;
    await fs.rm(entry.file, { force: true });
  }

  private enter(key: string, entry: Entry): void {
    this.total -= this.entries.get(key)?.bytes ?? 0;
    this.entries.delete(key);
    this.entries.set(key, entry);
    this.total += entry.bytes;
  }

  private async makeRoom(bytes: number): Promise<void> {
    const now = performance.now();
    for (const [key, { usedAt }] of [...this.entries]) {
      if (this.total + bytes <= this.most) return;
      if (usedAt === 0 || now - usedAt > IN_USE_MS) await this.remove(key);
    }
  }
}

const UNFINISHED = /\.part$/;
