import { randomUUID } from 'node:crypto';
import {
  BexlenError,
  beneathLook,
  echoed,
  lookFile,
  lookOf,
  named,
  namedIn,
  putOn,
  renamed,
  type Look,
  type LookFault,
  type Reference,
  type Stack,
  type Stand,
} from '@bexlen/core';
import { LOOKS_A_PAGE, MOST_LOOKS, type KeptLook, type Lookbook, type LookChange, type LookOrder, type PutVersions } from '@bexlen/api';
import type { Folder } from '../folder';
import type { Db, Tx } from './db';
import { cubeText, keepCube } from './cubes';
import { photoRow } from './photos';
import { keepStrokes } from './strokes';
import { addVersionIn, latestVersion } from './versions';

const noLook = (id: string): BexlenError =>
  new BexlenError('not-found', `There is no look ${echoed(id)}.`, 'Open the lookbook again; it may have been removed.');

/** Looks that are read at once. */
const AT_ONCE = 50;
/** What pages are told of a look: its file without the texts of tables. */
const fileOf = (look: Look): KeptLook['file'] => lookFile({ ...look, cubes: {} });

/** All looks: ours as they come with Bexlen, and those of one's own, kept as their files say. */
export class Looks {
  constructor(
    private readonly db: Db,
    private readonly folder: Folder,
    private readonly ours: ReadonlyMap<string, Look>,
    /** Looks of one's own that it takes. */
    private readonly room = MOST_LOOKS,
  ) {
    this.ourFiles = [...ours].map(([id, look]) => [id, fileOf(look)] as const);
  }

  private readonly ourFiles: readonly (readonly [string, KeptLook['file']])[];

  /** Files of looks of one's own as they were last read, each with the state of its row. */
  private read = new Map<string, { readonly state: string; readonly file: KeptLook['file'] | undefined }>();

  async all(): Promise<KeptLook[]> {
    const favourites = new Set((await this.db.query<{ look_id: string }>('SELECT look_id FROM favourite_looks')).rows.map(({ look_id }) => look_id));
    const { rows } = await this.db.query<{ id: string; state: string }>('SELECT id, xmin::text AS state FROM looks ORDER BY added_at DESC, id');
    await this.readNew(rows);
    const own = rows.flatMap(({ id }) => {
      const file = this.read.get(id)?.file;
      return file ? [{ id, own: true, favourite: favourites.has(id), file }] : [];
    });
    return [...own, ...this.ourFiles.map(([id, file]) => ({ id, own: false, favourite: favourites.has(id), file }))];
  }

  /** Looks after one of them, or the first ones; where that one is gone meanwhile, from the first one on. */
  async page(after: string | undefined): Promise<Lookbook> {
    const all = await this.all();
    const begin = all.findIndex(({ id }) => id === after) + 1;
    const looks = all.slice(begin, begin + LOOKS_A_PAGE);
    return { looks, ...(begin + LOOKS_A_PAGE < all.length && { next: looks.at(-1)?.id }) };
  }

  /** Reads what was added or changed since, some at a time, so that others get their turn; what is gone is forgotten. */
  private async readNew(rows: readonly { id: string; state: string }[]): Promise<void> {
    const before = this.read;
    this.read = new Map(rows.flatMap(({ id, state }) => (before.get(id)?.state === state ? [[id, before.get(id) as never]] : [])));
    const { read } = this;
    const fresh = rows.filter(({ id }) => !read.has(id)).map(({ id }) => id);
    for (let i = 0; i < fresh.length; i += AT_ONCE) {
      const part = await this.db.query<{ id: string; state: string; look: unknown }>(
        'SELECT id, xmin::text AS state, look FROM looks WHERE id = ANY($1)',
        [fresh.slice(i, i + AT_ONCE)],
      );
      for (const { id, state, look: kept } of part.rows) {
        const { look } = lookOf(kept);
        read.set(id, { state, file: look && fileOf(look) });
      }
      await new Promise((resolve) => setImmediate(resolve));
    }
    this.read = read;
  }

  async one(id: string): Promise<Look> {
    const our = this.ours.get(id);
    if (our) return our;
    const [row] = (await this.db.query<{ look: unknown }>('SELECT look FROM looks WHERE id = $1', [id])).rows;
    const { look } = row ? lookOf(row.look) : { look: undefined };
    if (!look) throw noLook(id);
    return look;
  }

  /** A look with the texts of the tables that it names: as it may go to others. */
  async whole(id: string): Promise<Look> {
    const look = await this.one(id);
    const names = namedIn(look.stack.layers, 'file');
    const cubes = await Promise.all([...names].map(async (name) => [name, await cubeText(this.folder, name)] as const));
    return { ...look, cubes: Object.fromEntries(cubes) };
  }

  /** Takes looks in, all or none. What they name must be in their files or kept here; what is missing is told instead. */
  async add(looks: readonly Look[]): Promise<{ added: string[]; faults: LookFault[] }> {
    const kept: Look[] = [];
    const faults: LookFault[] = [];
    for (const look of looks) {
      try {
        kept.push(await this.withTables(look));
      } catch (error) {
        faults.push({ path: look.name, message: (error as Error).message });
      }
    }
    if (faults.length > 0) return { added: [], faults };
    const added = kept.map((look) => ({ id: randomUUID(), look }));
    await this.db.transaction(async (tx) => {
      const [{ count = 0 } = {}] = (await tx.query<{ count: number }>('SELECT count(*)::int AS count FROM looks')).rows;
      if (count + added.length > this.room)
        throw new BexlenError(
          'too-large',
          `There is room for ${this.room} looks of one’s own: there are ${count}, and these would be ${added.length} more.`,
          'Remove some from the lookbook; as an archive they can come back.',
        );
      for (const { id, look } of added) {
        await keepStrokes(tx, look.strokes.map(named));
        await tx.query('INSERT INTO looks (id, look) VALUES ($1, $2)', [id, lookFile(look)]);
      }
    });
    return { added: added.map(({ id }) => id), faults: [] };
  }

  /** Ours can only be marked as a favourite. */
  async change(id: string, { favourite, ...change }: LookChange): Promise<void> {
    const look = await this.one(id);
    await this.db.transaction(async (tx) => {
      if (favourite === true) await tx.query('INSERT INTO favourite_looks (look_id) VALUES ($1) ON CONFLICT DO NOTHING', [id]);
      if (favourite === false) await tx.query('DELETE FROM favourite_looks WHERE look_id = $1', [id]);
      if (Object.keys(change).length === 0) return;
      this.mustBeOwn(id);
      await tx.query('UPDATE looks SET look = $2 WHERE id = $1', [id, lookFile({ ...look, ...change } as Look)]);
    });
  }

  async remove(id: string): Promise<void> {
    await this.one(id);
    this.mustBeOwn(id);
    await this.db.query('DELETE FROM looks WHERE id = $1', [id]);
    await this.db.query('DELETE FROM favourite_looks WHERE look_id = $1', [id]);
  }

  /** Puts a look on photos, on the version of each that was changed last: as a new version, so that nothing is changed. All or none. */
  async putOn(
    id: string,
    { photos, where, strength, fit }: LookOrder,
    standOf: (photoId: string, stack: Stack) => Promise<Stand>,
  ): Promise<PutVersions['versions']> {
    const look = await this.one(id);
    const stands = new Map<string, Stand>();
    // That takes its time, and is not to hold others up.
    if (fit)
      for (const photoId of new Set(photos)) {
        await photoRow(this.db, photoId);
        stands.set(photoId, await standOf(photoId, beneathLook((await latestVersion(this.db, photoId)).stack, where)));
      }
    return this.db.transaction(async (tx) => {
      const made: { id: string; photoId: string }[] = [];
      for (const photoId of new Set(photos)) {
        await photoRow(tx, photoId);
        const { stack } = await latestVersion(tx, photoId);
        const on = putOn(stack, look, { where, strength, from: stands.get(photoId), newId: () => `l${randomUUID().slice(0, 18)}` });
        const words = `Put on ${look.name}${strength < 1 ? `, ${Math.round(strength * 100)} %` : ''}`;
        const steps = [
          { words: 'As it was', stack },
          { words, stack: on },
        ];
        made.push({ id: await addVersionIn(tx, photoId, { name: look.name, steps, cursor: 1 }), photoId });
      }
      return made;
    });
  }

  private mustBeOwn(id: string): void {
    if (this.ours.has(id))
      throw new BexlenError(
        'bad-request',
        'This look comes with Bexlen and stays as it is.',
        'Put it on a photo, change it there and take it as your own.',
      );
  }

  /** A look whose tables are kept here, by the names that they have here. */
  private async withTables(look: Look): Promise<Look> {
    const names = new Map<string, string>();
    for (const name of namedIn(look.stack.layers, 'file')) {
      const text = look.cubes[name];
      if (text === undefined) await cubeText(this.folder, name);
      else names.set(name, await keepCube(this.folder, text, name.split(':').at(-1) ?? name));
    }
    const here = ({ to, name }: Reference): string => (to === 'file' ? (names.get(name) ?? name) : name);
    return { ...look, cubes: {}, stack: { ...look.stack, layers: look.stack.layers.map((layer) => renamed(layer, here)) } };
  }
}

/** Removes versions that were just made, unless somebody has changed one since; those stay, and are told of. */
export async function removeFresh(db: Db, ids: readonly string[]): Promise<{ kept: string[] }> {
  return db.transaction(async (tx: Tx) => {
    const { rows } = await tx.query<{ id: string }>(
      `DELETE FROM versions WHERE id = ANY($1) AND revision = 1
         AND EXISTS (SELECT 1 FROM versions other WHERE other.photo_id = versions.photo_id AND NOT (other.id = ANY($1) AND other.revision = 1))
       RETURNING id`,
      [ids],
    );
    const gone = new Set(rows.map(({ id }) => id));
    const { rows: there } = await tx.query<{ id: string }>('SELECT id FROM versions WHERE id = ANY($1)', [ids]);
    return { kept: there.map(({ id }) => id).filter((id) => !gone.has(id)) };
  });
}
