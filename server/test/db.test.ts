import fs from 'node:fs/promises';
import path from 'node:path';
import { lookOf, type Look } from '@bexlen/core';
import { takeFolder } from '../src/folder';
import { openDb, json, type OpenDb } from '../src/store/db';
import { Looks } from '../src/store/looks';
import { Cluster } from './postgres';
import { newFolder, soon } from './server';

const migrations = path.join(import.meta.dirname, '../src/store/migrations');

let cluster: Cluster;
let folder: string;
beforeAll(async () => {
  folder = await newFolder();
  cluster = await Cluster.begin();
});
afterAll(async () => {
  await cluster.end();
  await fs.rm(folder, { recursive: true });
});

let count = 0;
const places = {
  // Laid out before, as it was for all tests.
  'a folder': async () => {
    const at = path.join(folder, `database-${++count}`);
    await fs.cp(path.join(process.env['BEXLEN_EMPTY_SHELF'] as string, 'database'), at, { recursive: true });
    return at;
  },
  PostgreSQL: () => cluster.database(`studio_${++count}`),
};

describe.each(Object.keys(places) as (keyof typeof places)[])('a database in %s', (name) => {
  let where = '';
  beforeAll(async () => {
    where = await places[name]();
  });
  const opened = (): Promise<OpenDb> => openDb(where, migrations);

  it('counts, tells times and keeps JSON as the tables say, and is brought up to date once', async () => {
    const first = await opened();
    await first.query('INSERT INTO export_presets (id, name, wish) VALUES ($1, $2, $3)', ['a', 'One', json(['of', { several: [1, 2] }])]);
    await first.close();
    const db = await opened();
    const { rows } = await db.query('SELECT wish, 5000000000::bigint AS many, $1::timestamptz AS at FROM export_presets', [
      '2026-11-29T12:00:00+02:00',
    ]);
    expect(rows).toEqual([{ wish: ['of', { several: [1, 2] }], many: 5e9, at: '2026-11-29T10:00:00.000Z' }]);
    expect((await db.query('UPDATE export_presets SET name = name')).affectedRows).toBe(1);
    await db.close();
  });

  it('holds looks, tells what is new, changed or gone among them, and refuses more than it takes', async () => {
    const db = await opened();
    const files = await takeFolder(path.join(folder, `looks-${++count}`));
    const looks = new Looks(db, files, new Map(), 70);
    const many = Array.from({ length: 69 }, (_, i) => lookOf({ look: 3, name: `Look ${i}`, layers: [] }).look as Look);
    const { added } = await looks.add(many);
    const names = async (): Promise<unknown[]> => (await looks.all()).map(({ file }) => (file as { name: string }).name).sort();
    expect(await names()).toEqual(many.map((look) => look.name).sort());
    await looks.change(added[7] as string, { name: 'Another' });
    await looks.remove(added[8] as string);
    const left = many.map((look) => look.name).filter((named) => named !== 'Look 7' && named !== 'Look 8');
    expect(await names()).toEqual(['Another', ...left].sort());
    await expect(looks.add(many.slice(0, 3))).rejects.toThrow('There is room for 70 looks of one’s own: there are 68, and these would be 3 more.');
    expect(await names()).toHaveLength(68);
    const plain = lookOf({ look: 3, name: 'Ours', layers: [] }).look as Look;
    const book = new Looks(db, files, new Map(Array.from({ length: 350 }, (_, i) => [`ours-${i}`, plain])), 70);
    const told: string[] = [];
    const pages: number[] = [];
    for (let after: string | undefined, going = true; going; going = after !== undefined) {
      const page = await book.page(after);
      told.push(...page.looks.map(({ id }) => id));
      pages.push(page.looks.length);
      after = page.next;
    }
    expect(pages).toEqual([200, 200, 18]);
    expect(told).toEqual((await book.all()).map(({ id }) => id));
    await files.release();
    await db.close();
  });

  it('does what is done in one piece, or nothing of it', async () => {
    const db = await opened();
    const add = (id: string) => db.query('INSERT INTO favourite_looks (look_id) VALUES ($1)', [id]);
    await add('kept');
    const failing = db.transaction(async (tx) => {
      await tx.query('DELETE FROM favourite_looks');
      throw new Error('no');
    });
    await expect(failing).rejects.toThrow('no');
    expect((await db.query('SELECT look_id FROM favourite_looks')).rows).toEqual([{ look_id: 'kept' }]);
    await db.close();
  });

  it('is left alone where a newer version has brought it further, which both versions are named for', async () => {
    const db = await opened();
    await db.query("INSERT INTO migrations (name) VALUES ('9999_beyond.sql')");
    await db.close();
    const newest = (await fs.readdir(migrations)).sort().at(-1)?.slice(0, 4);
    await expect(opened()).rejects.toMatchObject({ code: 'no-database', message: expect.stringMatching(`at 9999, .* up to ${newest}`) });
    const { withoutChange } = await import('../src/store/db');
    const again = await withoutChange(where);
    await again.query("DELETE FROM migrations WHERE name = '9999_beyond.sql'");
    await again.close();
  });

  it('loses nothing that several change at a time', async () => {
    const db = await opened();
    await db.query('INSERT INTO rolls (id, name) VALUES ($1, $2)', ['r', '0']);
    const more = () =>
      db.transaction(async (tx) => {
        const [row] = (await tx.query<{ name: string }>('SELECT name FROM rolls')).rows;
        await new Promise((resolve) => setTimeout(resolve, 1));
        await tx.query('UPDATE rolls SET name = $1', [String(Number(row?.name) + 1)]);
      });
    await Promise.all(Array.from({ length: 12 }, more));
    expect((await db.query('SELECT name FROM rolls')).rows).toEqual([{ name: '12' }]);
    await db.close();
  });
});

describe('a PostgreSQL server', () => {
  it('whose address cannot be read is told of without its password', async () => {
    await expect(openDb('postgres://painter:sec/ret@127.0.0.1/studio', migrations)).rejects.toMatchObject({
      code: 'no-database',
      message: expect.not.stringMatching(/sec|ret@/),
      hint: expect.stringMatching('%2F'),
    });
  });

  it('is brought up to date by one process at a time', async () => {
    const where = await cluster.database('many');
    const all = await Promise.all(Array.from({ length: 6 }, () => openDb(where, migrations)));
    const { rows } = await (all[0] as OpenDb).query<{ n: number }>('SELECT count(*)::int AS n FROM migrations');
    expect(rows).toEqual([{ n: (await fs.readdir(migrations)).length }]);
    await Promise.all(all.map((db) => db.close()));
  });

  it('may be started anew in the middle', async () => {
    const db = await openDb(await cluster.database('restarted'), migrations);
    await db.query("INSERT INTO favourite_looks (look_id) VALUES ('kept')");
    const slow = db.query('SELECT pg_sleep(20)');
    slow.catch(() => undefined);
    const sleeping = async (): Promise<number> =>
      (await db.query("SELECT 1 FROM pg_stat_activity WHERE query LIKE 'SELECT pg_sleep(%' AND state = 'active'")).rows.length;
    await soon(async () => expect(await sleeping()).toBe(1));
    await cluster.restart();
    await expect(slow).rejects.toThrow();
    expect((await db.query('SELECT look_id FROM favourite_looks')).rows).toEqual([{ look_id: 'kept' }]);
    await db.close();
  });

  it.each([
    ['with a wrong password', () => cluster.address('postgres', 'wrong'), /does not let studio in/, /password in BEXLEN_DATABASE/],
    ['with a name that it does not have', () => cluster.address('nowhere'), /There is no database nowhere/, /createdb nowhere/],
    [
      'at an address where nothing is',
      () => 'postgres://studio@127.0.0.1:9/x',
      /127\.0\.0\.1:9 cannot be reached/,
      /Look whether PostgreSQL runs there/,
    ],
  ])('says what to do when it is asked for %s', async (_, where, message, hint) => {
    const refused = await openDb(where(), migrations).catch((error: unknown) => error as { code: string; message: string; hint: string });
    expect(refused).toMatchObject({
      code: 'no-database',
      message: expect.stringMatching(message) as string,
      hint: expect.stringMatching(hint) as string,
    });
  });
});
