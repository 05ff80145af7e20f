import { keys } from './keys';

it('no two of the bench’s keys are the same, and each says what it does', () => {
  expect(new Set(keys.map(({ key }) => key)).size).toBe(keys.length);
  for (const { words } of keys) expect(words).toMatch(/^[A-Z]/);
});
