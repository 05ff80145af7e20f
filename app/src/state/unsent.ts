import { nameOf } from '@bexlen/core';
import { useBench } from './bench';
import { keepBeside, sameState } from './copies';
import { journal, type Unsent } from './journal';
import { hear } from './news';
import { Refusal, server } from './server';
import { markKept } from './strokes';

/**
 * Sends what this browser has not sent yet of versions that are not on the bench: they were left while the server was away, or with the page. The one on the bench is the business of `autosave.ts`. What
 * cannot be sent now stays for the next time.
 */
export async function sendUnsent(): Promise<void> {
  const all = async (): Promise<void> => {
    for (const versionId of journal.all()) if (versionId !== useBench.getState().versionId) await sendOne(versionId).catch(() => undefined);
  };
  if (!navigator.locks) return all();
  await navigator.locks.request('bexlen-unsent', all);
}

async function sendOne(versionId: string): Promise<void> {
  const unsent = journal.read(versionId);
  if (!unsent) return;
  try {
    await server.keepVersion(versionId, unsent.change);
  } catch (error) {
    if (!(error instanceof Refusal) || error.code !== 'conflict') throw error;
    await despite(versionId, unsent);
  }
  unsent.change.strokes.forEach((painted) => markKept(nameOf(painted)));
  // More may have been made of it since.
  const now = journal.read(versionId);
  if (now && sameState(now, unsent)) journal.clear(versionId);
}

/** Handles a refused change: either it had arrived before and only the answer was lost, or somebody else was first and both are kept. */
async function despite(versionId: string, unsent: Unsent): Promise<void> {
  if (!sameState(await server.version(versionId), unsent)) await keepBeside(unsent.photoId, unsent.name, unsent);
}

/** Sends unsent changes whenever the server can be reached again and when the bench is left. Returns a function that stops this. */
export function keepSending(): () => void {
  const stops = [
    hear('hello', () => void sendUnsent()),
    useBench.subscribe((now, before) => before.versionId !== '' && now.versionId !== before.versionId && void sendUnsent()),
  ];
  return () => stops.forEach((stop) => stop());
}
