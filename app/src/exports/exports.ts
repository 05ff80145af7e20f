import { create } from 'zustand';
import { z } from 'zod';
import { exportJob, type ExportJob } from '@bexlen/server/api';
import { sentenceOf, server } from '../state/server';

interface ExportsState {
  readonly jobs: readonly ExportJob[];
  readonly state: 'opening' | 'ready' | 'away';
  readonly message: string;
}

export const useExports = create<ExportsState>(() => ({ jobs: [], state: 'opening', message: '' }));
const { setState } = useExports;

export const megabytes = (bytes: number): string => (bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} KB` : `${(bytes / 1e6).toFixed(1)} MB`);

/** How long to wait before the server is asked again. */
const RETRY_MS = 1500;

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
  let news: EventSource | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const connect = (): void => {
    news = new EventSource('/api/exports/events');
    news.onopen = () => void load();
    news.onerror = () => {
      setState({ state: 'away' });
      news?.close();
      timer = setTimeout(connect, RETRY_MS);
    };
    news.addEventListener('export', ({ data }: MessageEvent<string>) => {
      const read = exportJob.safeParse(JSON.parse(data));
      if (read.success) put(read.data);
    });
    news.addEventListener('removed', ({ data }: MessageEvent<string>) => {
      const { id } = z.object({ id: z.string() }).parse(JSON.parse(data));
      setState(({ jobs }) => ({ jobs: jobs.filter((job) => job.id !== id) }));
    });
  };
  connect();
  return () => {
    clearTimeout(timer);
    news?.close();
  };
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
