import type { FromWorker } from '@bexlen/core/engine';

/**
 * Hears the engine's workers: what the first says, and what any of them, or the hearing itself, throws.
 * @returns what is there once the first is ready. It fails where one fails before that.
 */
export function hearWorkers(workers: readonly Worker[], heard: (message: FromWorker) => void, threw: (error: unknown) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    const failed = (error: unknown): void => {
      reject(error);
      threw(error);
    };
    for (const worker of workers) worker.onerror = ({ error, message }: ErrorEvent) => failed(error ?? new Error(message));
    const [lead] = workers;
    if (!lead) return;
    lead.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      if (data.type === 'ready') return resolve();
      if (data.type === 'failed') reject(new Error(data.message));
      try {
        heard(data);
      } catch (error) {
        failed(error);
      }
    };
  });
}
