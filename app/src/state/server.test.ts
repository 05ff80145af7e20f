import type { Photo } from '@bexlen/api';
import { server } from './server';

const photo: Photo = {
  id: 'a',
  name: 'First',
  caption: '',
  format: 'JPEG',
  width: 3,
  height: 2,
  depth: 8,
  alpha: false,
  gamut: 'srgb',
  headroom: null,
  bytes: 9,
  picked: false,
  binned: false,
  takenAt: null,
  rollId: null,
  missing: false,
  importedAt: 'now',
  versions: [],
};

it('the shelf shows all photos that can be read, also where one cannot, and counts those', async () => {
  const answer = { photos: [photo, { ...photo, id: 'b', depth: 12 }, { ...photo, id: 'c', name: '\u3000' }], unread: 2 };
  const before = globalThis.fetch;
  globalThis.fetch = () => Promise.resolve(new Response(JSON.stringify(answer)));
  const { photos, unread } = await server.photos().finally(() => (globalThis.fetch = before));
  expect([photos.map(({ id }) => id), unread]).toEqual([['a', 'c'], 3]);
});
