import fs from 'node:fs/promises';
import path from 'node:path';
import { emptyMask, emptyStack, named, nameOf, newLayer, newPart, type Painted, type Stack } from '@bexlen/core';
import type { ExportJob, Photo, Version } from '@bexlen/api';
import { openDb, type OpenDb } from '../src/store/db';
import { forgetStrokes, keepStrokes } from '../src/store/strokes';
import { order } from './asking';
import { databaseOf, jpeg, newFolder, startServer, upload, type Running } from './server';

let folder: string;
let server: Running;
let photo: Photo;
beforeAll(async () => {
  folder = await newFolder();
  server = await startServer(folder);
  photo = (await upload(server.address, await jpeg(), 'slope.jpg')).body['photo'] as unknown as Photo;
});
afterAll(async () => {
  await server.close();
  await fs.rm(folder, { recursive: true });
});

/** Does something to the database while the server is away. */
async function away(act: (db: OpenDb) => Promise<void>): Promise<void> {
  await server.close();
  const db = await openDb(await databaseOf(path.join(folder, 'data')), path.join(import.meta.dirname, '../src/store/migrations'));
  await act(db);
  await db.close();
  server = await startServer(folder);
}

async function ask<T>(method: string, to: string, body?: unknown): Promise<{ status: number; body: T & { message?: string } }> {
  const answer = await fetch(`${server.address}/api${to}`, {
    method,
    ...(body !== undefined && { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
  });
  return { status: answer.status, body: (await answer.json()) as T & { message?: string } };
}

/** Strokes one after another, each a line at a height of its own. */
function strokes(n: number, salt = 0): Painted[] {
  const made: Painted[] = [];
  for (let i = 0; i < n; i++) {
    const last = made.at(-1);
    const stroke = {
      size: 0.1,
      softness: 0.5,
      flow: 1,
      erase: false,
      pressure: 'none' as const,
      trace: [-30000, i * 10 + salt, 100, 0, 60000, 0, 0, 16],
    };
    made.push({ after: last ? nameOf(last) : '', stroke });
  }
  return made;
}
const ends = (all: readonly Painted[]): string => nameOf(all.at(-1) as Painted);
const paintedStack = (name: string): Stack => {
  const mask = { ...emptyMask, parts: [{ ...newPart('brush', 'b'), params: { strokes: name } }] };
  const layer = newLayer('exposure', 'a');
  return { ...emptyStack, layers: [{ ...layer, params: { ...layer.params, stops: -3 }, mask }] };
};
const steps = (stack: Stack) => [{ words: 'As it came', stack }];
const add = (name: string, stack: Stack, sent: readonly Painted[]) =>
  ask<Version>('POST', `/photos/${photo.id}/versions`, { name, steps: steps(stack), cursor: 0, strokes: sent });

describe('strokes', () => {
  it('are kept once, with the version that names them, and come back in their order', async () => {
    const all = strokes(40);
    expect((await add('Painted', paintedStack(ends(all)), all)).status).toBe(201);
    expect((await add('Again', paintedStack(ends(all)), all)).status).toBe(201);
    const { body } = await ask<{ strokes: Painted[]; missing?: string }>('GET', `/strokes/${ends(all)}`);
    expect(body).toEqual({ strokes: all });
    // Half of them are a painting too.
    expect((await ask<{ strokes: Painted[] }>('GET', `/strokes/${ends(all.slice(0, 20))}`)).body.strokes).toHaveLength(20);
  });

  it('are refused with the version when one is missing, and nothing is kept', async () => {
    const all = strokes(3, 7);
    const lost = await add('Lost', paintedStack(ends(all)), all.slice(1));
    expect([lost.status, lost.body.message]).toEqual([422, expect.stringMatching(/follows one that is not kept/)]);
    const unsent = await add('Unsent', paintedStack(ends(all)), []);
    expect(unsent.body.message).toMatch(/steps\.0: “Exposure” names strokes that are not kept/);
    expect((await ask<{ missing?: string }>('GET', `/strokes/${ends(all)}`)).body).toEqual({ strokes: [], missing: ends(all) });
  });

  it.each([
    [{ size: NaN }, /size/],
    [{ trace: [1, 2, 3] }, /at least one point|four numbers/],
    [{ trace: Array.from({ length: 80_004 }, () => 1) }, /at most 20000 points/],
    [{ flow: 7 }, /flow/],
    [{ colour: 'red' }, /colour/],
  ])('that are broken are refused with a sentence: %j', async (broken, message) => {
    const [first] = strokes(1) as [Painted];
    const { status, body } = await add('Broken', emptyStack, [{ ...first, stroke: { ...first.stroke, ...broken } as Painted['stroke'] }]);
    expect([status, body.message]).toEqual([400, expect.stringMatching(message)]);
  });

  it('of a painting that lost some: the version opens, can be changed, and no file is made without them in silence', async () => {
    const all = strokes(4, 13);
    const { body: version } = await add('Losing', paintedStack(ends(all)), all);
    await away(async (db) => void (await db.query('DELETE FROM strokes WHERE name = $1', [nameOf(all[1] as Painted)])));
    expect((await ask<Version>('GET', `/versions/${version.id}`)).status).toBe(200);
    expect((await ask<{ strokes: Painted[]; missing?: string }>('GET', `/strokes/${ends(all)}`)).body).toMatchObject({
      strokes: all.slice(2),
      missing: nameOf(all[1] as Painted),
    });
    const change = {
      replaces: 1,
      forget: 0,
      from: 1,
      steps: [{ words: 'On', stack: { ...paintedStack(ends(all)), master: 0.5 } }],
      cursor: 1,
      strokes: [],
    };
    expect((await ask('PUT', `/versions/${version.id}`, change)).status).toBe(200);
    const { body: job } = await order(ask, { versionId: version.id, format: 'png', depth: 8 });
    let state: ExportJob = job;
    for (let i = 0; i < 200 && state.state !== 'failed'; i++) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      state = (await ask<{ exports: ExportJob[] }>('GET', '/exports')).body.exports.find(({ id }) => id === job.id) as ExportJob;
    }
    expect(state.fault?.message).toBe('Strokes of “Exposure” are not kept here.');
    expect((await fetch(`${server.address}/api/versions/${version.id}/thumb`)).status).toBe(200);
  });

  it('that nothing names any more go after a while, all others stay', async () => {
    const [named, unnamed] = [strokes(3, 21), strokes(3, 22)];
    const { body: version } = await add('Kept', paintedStack(ends(named)), [...named, ...unnamed]);
    await away(async (db) => {
      await db.query("UPDATE strokes SET kept_at = kept_at - interval '30 days'");
      expect(await forgetStrokes(db)).toBe(3 + 1);
    });
    expect(version.id).toBeTruthy();
    expect((await ask<{ strokes: Painted[] }>('GET', `/strokes/${ends(named)}`)).body.strokes).toEqual(named);
    expect((await ask<{ strokes: Painted[] }>('GET', `/strokes/${ends(unnamed)}`)).body.strokes).toEqual([]);
  });

  it('that are long are kept in pieces, between which others are answered', async () => {
    const points = Array.from({ length: 9000 }, () => [1, 0, 0, 1]).flat();
    const all = strokes(20, 500).map(({ stroke }) => ({ after: '', stroke: { ...stroke, trace: [...stroke.trace.slice(0, 4), ...points] } }));
    await away(async (db) => {
      let [going, answered] = [true, 0];
      const keeping = keepStrokes(db, all.map(named)).finally(() => (going = false));
      while (going) {
        await db.query('SELECT 1');
        answered++;
        await new Promise((resolve) => setImmediate(resolve));
      }
      await keeping;
      expect(answered).toBeGreaterThanOrEqual(all.length - 1);
    });
  });

  it('five thousand with two hundred thousand points are kept in one go and found again', async () => {
    const trace = [0, 0, 100, 0, ...Array.from({ length: 39 }, () => [50, 3, 0, 8]).flat()];
    const all = strokes(5000, 1000).reduce<Painted[]>((made, { stroke }, i) => {
      const last = made.at(-1);
      made.push({ after: last ? nameOf(last) : '', stroke: { ...stroke, trace: [i, ...trace.slice(1)] } });
      return made;
    }, []);
    expect((await add('Many', paintedStack(ends(all)), all)).status).toBe(201);
    expect((await ask<{ strokes: Painted[] }>('GET', `/strokes/${ends(all)}`)).body.strokes).toHaveLength(5000);
  });
});
