import path from 'node:path';
import { EMPTY } from './house';

/** Lays an empty shelf out, for all stories to begin with. */
export default async function before(): Promise<void> {
  const { emptyShelf } = (await import(path.resolve(import.meta.dirname, '../../scripts/empty-shelf.mjs'))) as { emptyShelf: () => Promise<string> };
  process.env[EMPTY] = await emptyShelf();
}
