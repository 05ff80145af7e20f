import { keptIn } from './kept';

const kept = (where: string, asked = false): string | undefined => keptIn(new URL(where, 'https://127.0.0.2:4800'), asked);

it('keeps what the shelf and the bench need without the server', () => {
  expect(['/api/photos', '/api/rolls', '/api/photos/a-1', '/api/versions/b-2', '/api/looks'].map((where) => kept(where))).toEqual(
    Array(5).fill('data'),
  );
  expect([kept('/api/photos/a/thumb'), kept('/api/versions/b/thumb?revision=3')]).toEqual(['small', 'small']);
  expect([kept('/api/strokes/x'), kept('/api/cubes/x')]).toEqual(['named', 'named']);
});

it('keeps pixels of whole photos, and of parts only where they are asked for as working size', () => {
  expect(kept('/api/photos/a/pixels?edge=1024')).toBe('pixels');
  expect(kept('/api/photos/a/pixels?x=0&y=0&w=64&h=64&edge=64')).toBeUndefined();
  expect(kept('/api/photos/a/pixels?x=0&y=0&w=64&h=64&edge=64', true)).toBe('pixels');
});

it('keeps nothing of who is let in, of news, files and uploads', () => {
  const others = [
    '/api/phone',
    '/api/phone/me',
    '/api/events',
    '/api/exports/a/file',
    '/api/uploads/a',
    '/pair',
    '/authority.crt',
    '/api/exports/archive?ids=a',
  ];
  expect(others.map((where) => kept(where))).toEqual(Array(others.length).fill(undefined));
});
