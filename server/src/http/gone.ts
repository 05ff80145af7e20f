import type { Response } from 'express';

/** Tells when nobody waits for an answer any more: the page was left, or the picture scrolled past. */
export function untilGone(res: Response): AbortSignal {
  const gone = new AbortController();
  res.once('close', () => {
    if (!res.writableFinished) gone.abort();
  });
  return gone.signal;
}
