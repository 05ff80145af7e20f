import { emptyMask, emptyStack, newLayer, newPart, type Stack } from '@bexlen/core';
import type { ExportJob } from '@bexlen/api';

/** Three layers: one that lies plainly over the others, one with a mask in a mode that others have, one in a mode of our own. */
export const treated: Stack = {
  ...emptyStack,
  layers: [
    { ...newLayer('tone', 'a'), name: 'First', params: { ...newLayer('tone', 'a').params, contrast: -0.3 } },
    {
      ...newLayer('fill', 'b'),
      name: 'Over',
      blend: 'multiply',
      strength: 0.4,
      params: { hue: 60, amount: 0.3, lightness: 0.7 },
      mask: { ...emptyMask, parts: [newPart('oval', 'o')] },
    },
    { ...newLayer('blur', 'c'), name: 'Pushed', blend: 'push', strength: 0.5 },
  ],
};

interface Answer<T> {
  readonly status: number;
  readonly body: T & { code?: string; message?: string };
}
export interface Asking {
  /** A request of JSON, and what comes back. */
  readonly ask: <T>(method: string, url: string, body?: unknown) => Promise<Answer<T>>;
  /** A file that was begun, once it is made. Throws what stood against it. */
  readonly finished: (begun: ExportJob) => Promise<{ job: ExportJob; bytes: Buffer }>;
}

/** Orders one file of a version. What comes back is the file that was begun, or why there is none. */
export async function order(
  ask: Asking['ask'],
  { versionId, ...wish }: { readonly versionId: string | undefined; readonly [of: string]: unknown },
): Promise<Answer<ExportJob>> {
  const { status, body } = await ask<{ exports?: [ExportJob] }>('POST', '/exports', { versionIds: [versionId], wish });
  return { status, body: { ...body, ...body.exports?.[0] } as Answer<ExportJob>['body'] };
}

/** Requests to a server that runs for the tests of a file. */
export function asking(address: () => string): Asking {
  const ask = async <T>(method: string, url: string, body?: unknown): Promise<Answer<T>> => {
    const answer = await fetch(`${address()}/api${url}`, {
      method,
      ...(body !== undefined && { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    });
    const text = await answer.text();
    return { status: answer.status, body: text ? JSON.parse(text) : {} };
  };
  const finished = async (begun: ExportJob): Promise<{ job: ExportJob; bytes: Buffer }> => {
    for (let i = 0; i < 1200; i++) {
      const job = (await ask<{ exports: ExportJob[] }>('GET', '/exports')).body.exports.find(({ id }) => id === begun.id) as ExportJob;
      if (job.state === 'failed') throw new Error(job.fault?.message);
      if (job.state === 'done') return { job, bytes: Buffer.from(await (await fetch(`${address()}/api/exports/${job.id}/file`)).arrayBuffer()) };
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    throw new Error('it took too long');
  };
  return { ask, finished };
}
