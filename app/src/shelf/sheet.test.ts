import type { Photo } from '@bexlen/api';
import { inTold, onSheet, type Wanted } from './sheet';

const photo = (name: string, rest: Partial<Photo> = {}): Photo => ({
  id: name,
  name,
  caption: '',
  format: 'JPEG',
  width: 3,
  height: 2,
  depth: 8,
  alpha: false,
  gamut: 'srgb',
  headroom: null,
  missing: false,
  bytes: 1,
  picked: false,
  binned: false,
  importedAt: '2026-01-01T00:00:00Z',
  takenAt: null,
  rollId: null,
  versions: [],
  ...rest,
});
const treated = { id: 'v', name: 'V', revision: 1, layers: 2, families: [], width: 3, height: 2, changedAt: '' };
const photos = [
  photo('b', { picked: true, takenAt: '2020-05-01T00:00:00Z', importedAt: '2026-01-03T00:00:00Z' }),
  photo('a', { versions: [treated], takenAt: '2022-05-01T00:00:00Z', caption: 'Harbour', rollId: 'r' }),
  photo('c', { importedAt: '2026-01-02T00:00:00Z' }),
  photo('gone', { binned: true }),
];
const all: Wanted = { bin: false, roll: undefined, search: '', filter: 'all', sort: 'new' };
const names = (wanted: Partial<Wanted>): string =>
  onSheet(photos, { ...all, ...wanted })
    .map(({ name }) => name)
    .join('');

it.each<[Partial<Wanted>, string]>([
  [{}, 'bca'],
  [{ sort: 'name' }, 'abc'],
  [{ sort: 'taken' }, 'cab'],
  [{ filter: 'picked' }, 'b'],
  [{ filter: 'treated' }, 'a'],
  [{ filter: 'plain' }, 'bc'],
  [{ search: 'HARB' }, 'a'],
  [{ roll: 'r' }, 'a'],
  [{ bin: true }, 'gone'],
])('the sheet of %j', (wanted, want) => {
  expect(names(wanted)).toBe(want);
});

it('a sheet that is told by pages stands as it was told, without what has left it since', () => {
  const ids = ['c', 'gone', 'not known', 'a', 'b'];
  expect(inTold(photos, ids, all).map(({ name }) => name)).toEqual(['c', 'a', 'b']);
  expect(inTold(photos, ids, { ...all, filter: 'plain' }).map(({ name }) => name)).toEqual(['c', 'b']);
});
