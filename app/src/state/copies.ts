import equal from 'fast-deep-equal';
import type { Version } from '@bexlen/api';
import type { History } from './history';
import { server } from './server';
import { unsentStrokes } from './strokes';

/** Returns whether two histories are at the same step with the same stack. */
export const sameState = (a: History, b: History): boolean =>
  a.cursor === b.cursor && a.steps.length === b.steps.length && equal(a.steps[a.cursor], b.steps[b.cursor]);

/** Keeps a history as a new version, beside the one that it came from and that was changed elsewhere. */
export async function keepBeside(photoId: string, versionName: string, history: History): Promise<Version> {
  const taken = new Set((await server.photo(photoId)).versions.map(({ name }) => name));
  const base = versionName.replace(/ \(\d+\)$/, '');
  let n = 2;
  while (taken.has(`${base} (${n})`)) n++;
  return server.addVersion(photoId, {
    name: `${base} (${n})`,
    steps: [...history.steps],
    cursor: history.cursor,
    strokes: unsentStrokes(history.steps),
  });
}
