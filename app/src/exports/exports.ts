import { create } from 'zustand';
import type { ExportJob, Fault } from '@bexlen/api';
import { hear, useReach } from '../state/news';
import { Refusal, sentenceOf, server } from '../state/server';
import { say, decimal } from '../words';

interface ExportsState {
  readonly jobs: readonly ExportJob[];
  readonly state: 'opening' | 'ready' | 'away';
  readonly message: string;
}

export const useExports = create<ExportsState>(() => ({ jobs: [], state: 'opening', message: '' }));
const { setState } = useExports;

export const megabytes = (bytes: number): string => (bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} KB` : `${decimal(bytes / 1e6, 1)} MB`);

type Change = (jobs: readonly ExportJob[]) => readonly ExportJob[];
const put =
  (job: ExportJob): Change =>
  (jobs) =>
    jobs.some(({ id }) => id === job.id) ? jobs.map((old) => (old.id === job.id ? job : old)) : [job, ...jobs];
const without =
  (gone: string): Change =>
  (jobs) =>
    jobs.filter(({ id }) => id !== gone);

/** What was told while the list is on its way: it may be newer than the list, and is said once more on top of it. */
let told: Change[] = [];
let loading: Promise<void> | undefined;

function change(how: Change): void {
  if (loading) told.push(how);
  setState(({ jobs }) => ({ jobs: how(jobs) }));
}

/** Fetches the list. Asked for while it is on its way, it is fetched once more afterwards. */
function load(): Promise<void> {
  const fetched = (loading ?? Promise.resolve()).then(async () => {
    told = [];
    try {
      const jobs = await server.exports();
      setState({ jobs: told.reduce((all, how) => how(all), jobs as readonly ExportJob[]), state: 'ready' });
    } catch {
      setState({ state: 'away' });
    }
    if (loading === fetched) loading = undefined;
  });
  loading = fetched;
  return fetched;
}

/** The list, kept up to date by what the server sends. Comes back by itself when the server was away. */
export function followExports(): () => void {
  const stops = [
    hear('hello', () => void load()),
    hear('export', (job) => change(put(job))),
    hear('removed', ({ id }) => change(without(id))),
    useReach.subscribe(({ reach }) => reach === 'away' && setState({ state: 'away' })),
  ];
  void load();
  return () => stops.forEach((stop) => stop());
}

/**
 * Waits until a file is made.
 * @param progress is told how far it is, 0..1. @throws {Refusal} what stood against it.
 */
export async function made(id: string, progress: (share: number) => void): Promise<ExportJob> {
  let stops: (() => void)[] = [];
  try {
    return await new Promise<ExportJob>((resolve, reject) => {
      const look = (job: ExportJob): void => {
        if (job.id !== id) return;
        progress(job.progress);
        if (job.state === 'done') resolve(job);
        else if (job.state === 'failed' || job.state === 'cancelled') reject(new Refusal(job.fault ?? CANCELLED));
      };
      // It may have been made before anybody listened, or while nobody could.
      const lookAnew = (): void =>
        void server.exports().then(
          (jobs) => jobs.forEach(look),
          () => undefined,
        );
      stops = [hear('export', look), hear('hello', lookAnew)];
      lookAnew();
    });
  } finally {
    stops.forEach((stop) => stop());
  }
}
const CANCELLED: Fault = { code: 'cancelled', message: say.exports.theFileWasCancelled, hint: say.exports.makeItAgainUnderExports };

/** What an answer says may be older than what was told since: the list is asked for instead. */
async function tried(act: () => Promise<unknown>): Promise<void> {
  try {
    await act();
    setState({ message: '' });
    await load();
  } catch (error) {
    setState({ message: sentenceOf(error) });
  }
}

/** Says something above the list; without words, takes away what was said. */
export const tell = (message: string | undefined): void => setState({ message: message ?? '' });

export const cancel = (job: ExportJob): Promise<void> => tried(() => server.cancelExport(job.id));
export const stopAll = (ids: readonly string[]): Promise<void> => tried(() => server.stopExports(ids));
export const goOn = (ids: readonly string[]): Promise<void> => tried(() => server.goOnWithExports(ids));
export const again = (job: ExportJob): Promise<void> => tried(() => server.exportAgain(job.id));
export const discard = (job: ExportJob): Promise<void> => tried(() => server.removeExport(job.id));
