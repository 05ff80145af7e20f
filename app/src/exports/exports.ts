import { create } from 'zustand';
import type { ExportJob } from '@bexlen/server/api';
import { hear, useReach } from '../state/news';
import { sentenceOf, server } from '../state/server';

interface ExportsState {
  readonly jobs: readonly ExportJob[];
  readonly state: 'opening' | 'ready' | 'away';
  readonly message: string;
}

export const useExports = create<ExportsState>(() => ({ jobs: [], state: 'opening', message: '' }));
const { setState } = useExports;

export const megabytes = (bytes: number): string => (bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} KB` : `${(bytes / 1e6).toFixed(1)} MB`);

const put = (job: ExportJob): void =>
  setState(({ jobs }) => ({ jobs: jobs.some(({ id }) => id === job.id) ? jobs.map((old) => (old.id === job.id ? job : old)) : [job, ...jobs] }));

/** The list, kept up to date by what the server sends. Comes back by itself when the server was away. */
export function followExports(): () => void {
  const load = async (): Promise<void> => {
    try {
      setState({ jobs: await server.exports(), state: 'ready' });
    } catch {
      setState({ state: 'away' });
    }
  };
  const stops = [
    hear('hello', () => void load()),
    hear('export', put),
    hear('removed', ({ id }) => setState(({ jobs }) => ({ jobs: jobs.filter((job) => job.id !== id) }))),
    useReach.subscribe(({ reach }) => reach === 'away' && setState({ state: 'away' })),
  ];
  void load();
  return () => stops.forEach((stop) => stop());
}

async function tried(act: () => Promise<ExportJob | null>): Promise<void> {
  try {
    const job = await act();
    if (job) put(job);
    setState({ message: '' });
  } catch (error) {
    setState({ message: sentenceOf(error) });
  }
}

export const cancel = (job: ExportJob): Promise<void> => tried(() => server.cancelExport(job.id));
export const again = (job: ExportJob): Promise<void> => tried(() => server.exportAgain(job.id));
export const discard = (job: ExportJob): Promise<void> => tried(() => server.removeExport(job.id));
