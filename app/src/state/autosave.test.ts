import { emptyStack, newLayer, readStack, type Stack } from '@bexlen/core';
import type { Photo, Version, VersionChange } from '@bexlen/api';
import { openVersion } from './autosave';
import { commit, inForce, useBench } from './bench';
import { applied } from './history';
import { journal } from './journal';

/** A server that keeps versions as the real one does, and can be away, or lose answers. */
class Shelf {
  readonly versions = new Map<string, Version>();
  way: 'there' | 'away' | 'answers are lost' = 'there';

  constructor() {
    this.versions.set('v1', {
      id: 'v1',
      photoId: 'p',
      name: 'Version 1',
      revision: 1,
      steps: [{ words: 'As it came', stack: emptyStack }],
      cursor: 0,
    });
  }

  private photo(): Photo {
    const plain = {
      name: 'Dunes',
      caption: '',
      format: 'JPEG',
      width: 3,
      height: 2,
      depth: 8 as const,
      alpha: false,
      gamut: 'srgb' as const,
      headroom: null,
      bytes: 9,
    };
    const rest = { picked: false, binned: false, takenAt: null, rollId: null, missing: false, importedAt: 'now' };
    const versions = [...this.versions.values()].map(({ id, name, revision }) => {
      return { id, name, revision, layers: 0, families: [], width: 3, height: 2, changedAt: 'now' };
    });
    return { id: 'p', ...plain, ...rest, versions };
  }

  private answer(method: string, path: string, body: unknown): [number, unknown] {
    const [, id = ''] = /^\/api\/versions\/(.+)$/.exec(path) ?? [];
    const version = this.versions.get(id);
    if (path === '/api/photos/p') return [200, this.photo()];
    if (path === '/api/photos/p/versions') {
      const { name, steps, cursor } = body as Version;
      const made = { id: 'v2', photoId: 'p', name, revision: 1, steps, cursor };
      this.versions.set('v2', made);
      return [200, made];
    }
    if (!version) return [404, { code: 'not-found', message: 'No such version.', hint: '' }];
    if (method === 'GET') return [200, version];
    const change = body as VersionChange;
    if (change.replaces !== version.revision) return [409, { code: 'conflict', message: 'It was changed.', hint: '' }];
    const { steps, cursor } = applied(version, change);
    const whole = steps.map((step) => ({ ...step, stack: readStack(step.stack) }));
    this.versions.set(id, { ...version, steps: whole, cursor, revision: version.revision + 1 });
    return [200, { revision: version.revision + 1 }];
  }

  readonly fetch = (path: string, { method = 'GET', body }: RequestInit = {}): Promise<Response> => {
    if (this.way === 'away') return Promise.reject(new TypeError('away'));
    const [status, said] = this.answer(method, path, typeof body === 'string' ? JSON.parse(body) : undefined);
    if (this.way === 'answers are lost' && method === 'PUT') return Promise.reject(new TypeError('lost'));
    // Read here, so that objects are of this realm, as they are in a page.
    const text = JSON.stringify(said);
    return Promise.resolve({ ok: status < 300, status, json: () => Promise.resolve(JSON.parse(text) as unknown) } as Response);
  };
}

let shelf: Shelf;
const moved: string[] = [];
const plain = newLayer('exposure', 'e');
const exposed = (stops: number): Stack => ({ ...emptyStack, layers: [{ ...plain, params: { ...plain.params, stops } }] });
const onServer = (id = 'v1'): unknown => {
  const { steps, cursor } = shelf.versions.get(id) as Version;
  return JSON.parse(JSON.stringify(steps[cursor]?.stack.layers.map((layer) => 'params' in layer && layer.params)));
};
/** Lets some time pass, with all that is waited for in it. */
const pass = (ms: number): Promise<void> => jest.advanceTimersByTimeAsync(ms);

beforeEach(async () => {
  jest.useFakeTimers();
  const kept = new Map<string, string>();
  Object.defineProperty(globalThis, 'localStorage', {
    configurable: true,
    value: {
      getItem: (k: string) => kept.get(k) ?? null,
      setItem: (k: string, v: string) => kept.set(k, v),
      removeItem: (k: string) => kept.delete(k),
    },
  });
  shelf = new Shelf();
  globalThis.fetch = shelf.fetch as typeof fetch;
  moved.length = 0;
  await openVersion('v1', (id) => moved.push(id));
});
afterEach(() => jest.useRealTimers());

describe('autosave', () => {
  it('sends what rests, once for all that was done until then', async () => {
    commit(exposed(1), 'Exposure: 1 EV');
    commit(exposed(2), 'Exposure: 2 EV');
    expect(useBench.getState().keep).toBe('keeping');
    expect(journal.read('v1')?.steps).toHaveLength(3);
    await pass(300);
    expect(shelf.versions.get('v1')?.revision).toBe(1);
    await pass(100);
    expect(shelf.versions.get('v1')?.revision).toBe(2);
    expect(onServer()).toMatchObject([{ stops: 2 }]);
    expect(useBench.getState().keep).toBe('kept');
    expect(journal.read('v1')).toBeUndefined();
  });

  it('waits for a server that is away, and goes on by itself', async () => {
    shelf.way = 'away';
    commit(exposed(1), 'Exposure: 1 EV');
    await pass(400);
    expect(useBench.getState().keep).toBe('waiting');
    commit(exposed(2), 'Exposure: 2 EV');
    await pass(5_000);
    expect(journal.read('v1')?.cursor).toBe(2);
    shelf.way = 'there';
    await pass(10_000);
    expect(useBench.getState().keep).toBe('kept');
    expect(onServer()).toMatchObject([{ stops: 2 }]);
  });

  it('recognises what arrived though the answer was lost', async () => {
    shelf.way = 'answers are lost';
    commit(exposed(1), 'Exposure: 1 EV');
    await pass(400);
    expect(shelf.versions.get('v1')?.revision).toBe(2);
    shelf.way = 'there';
    await pass(10_000);
    expect([...shelf.versions.keys()]).toEqual(['v1']);
    expect(shelf.versions.get('v1')?.revision).toBe(2);
    expect(useBench.getState().keep).toBe('kept');
  });

  it('keeps both where somebody else was first', async () => {
    const theirs = shelf.versions.get('v1') as Version;
    shelf.versions.set('v1', { ...theirs, revision: 2, steps: [...theirs.steps, { words: 'Exposure: -1 EV', stack: exposed(-1) }], cursor: 1 });
    commit(exposed(1), 'Exposure: 1 EV');
    await pass(1_000);
    expect(onServer('v1')).toMatchObject([{ stops: -1 }]);
    expect(shelf.versions.get('v2')?.name).toBe('Version 1 (2)');
    expect(onServer('v2')).toMatchObject([{ stops: 1 }]);
    expect(moved).toEqual(['v2']);
    expect(useBench.getState().notice).toContain('Both are kept');
    expect(inForce(useBench.getState().history).layers).toHaveLength(1);
  });

  it('opens with what was left unsent', async () => {
    shelf.way = 'away';
    commit(exposed(1), 'Exposure: 1 EV');
    await pass(400);
    useBench.setState({ versionId: '', photo: undefined });
    shelf.way = 'there';
    await openVersion('v1', () => undefined);
    expect(inForce(useBench.getState().history).layers[0]).toMatchObject({ params: { stops: 1 } });
    await pass(1_000);
    expect(onServer()).toMatchObject([{ stops: 1 }]);
  });
});
