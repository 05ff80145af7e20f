import type { ErrorRequestHandler, RequestHandler } from 'express';
import { ZodError } from 'zod';
import { BexlenError, refusalOf, type FaultCode } from '@bexlen/core';
import type { Fault } from '@bexlen/api';
import type { Log } from '../log';

export const STATUS: Record<FaultCode, number> = {
  'bad-request': 400,
  'not-found': 404,
  method: 405,
  conflict: 409,
  'wrong-host': 421,
  'foreign-origin': 403,
  'not-paired': 401,
  'wrong-code': 403,
  'too-many-tries': 429,
  'too-large': 413,
  'bad-range': 416,
  changed: 412,
  'bad-encoding': 415,
  'no-picture': 415,
  'unsupported-format': 415,
  'damaged-picture': 422,
  'damaged-file': 422,
  'too-many-pixels': 422,
  'bad-version': 422,
  'disk-full': 507,
  'folder-in-use': 423,
  'no-database': 503,
  'no-store': 503,
  memory: 507,
  'too-slow': 503,
  cancelled: 409,
  internal: 500,
};

/** Any error as a fault with a code, a sentence and what to do. */
export function asFault(error: unknown): BexlenError {
  if (error instanceof BexlenError) return error;
  if (error instanceof ZodError)
    return new BexlenError('bad-request', refusalOf(error, 'The request'), 'Nothing was changed. Send the request as the API describes it.');
  const { code, type, status } = (error ?? {}) as { code?: string; type?: string; status?: unknown };
  if (code === 'ENOSPC' || code === 'EDQUOT' || isDiskFull(error))
    return new BexlenError('disk-full', 'The disk is full.', 'Make room on the disk, then try again. Nothing that was kept is lost.');
  if (type === 'entity.too.large') return new BexlenError('too-large', 'The request is too large.', 'A version takes at most 200 layers.');
  if (type === 'entity.parse.failed') return new BexlenError('bad-request', 'The request is not JSON.', 'Send it again as JSON.');
  if (code !== undefined && NOT_TEXT.has(code))
    return new BexlenError('bad-request', 'It holds characters that cannot be kept.', 'Nothing was changed. Send it without them.');
  if (typeof status === 'number' && status >= 400 && status < 500) return ofStatus(status);
  return new BexlenError('internal', 'Something went wrong on the server.', 'Try again. If it happens again, look at the server’s messages.');
}

/** What PostgreSQL says of text with a zero character or half of a surrogate pair in it (Appendix A, class 22). */
const NOT_TEXT: ReadonlySet<string> = new Set(['22021', '22P05']);
const MOST_DRAINED = 1e9;

/** Encoders report a full disk in words only. */
const isDiskFull = (error: unknown): boolean => error instanceof Error && /no space left|disk full|write error/i.test(error.message);

/** What the libraries that read requests found wrong, by the status they give it. */
function ofStatus(status: number): BexlenError {
  const again = 'Nothing was changed. Send it again as the API describes it.';
  if (status === 404) return new BexlenError('not-found', 'This file is not here.', 'Load the page again.');
  if (status === 412) return new BexlenError('changed', 'It is not what it was when it was last asked for.', 'Ask for it anew.');
  if (status === 413) return new BexlenError('too-large', 'The request is too large.', 'Make it smaller and send it again.');
  if (status === 415)
    return new BexlenError('bad-encoding', 'The request is written in an encoding that is not read here.', 'Send it as UTF-8, plain or by gzip.');
  if (status === 416) return new BexlenError('bad-range', 'The part that is asked for lies outside the file.', 'Ask for the whole file.');
  return new BexlenError('bad-request', 'The request cannot be read.', again);
}

export const toFault = ({ code, message, hint }: BexlenError): Fault => ({ code, message, hint });

/** The one place where errors become answers. */
export const answerFault =
  (log: Log): ErrorRequestHandler =>
  (error, req, res, next) => {
    const fault = asFault(error);
    // Who has gone in the middle of asking hears no answer, and it is nobody's fault.
    if (fault.code === 'internal' && !req.socket.destroyed) log.error({ err: error as unknown, url: req.url }, 'request failed');
    if (res.headersSent) return next(error);
    // The rest of what is being sent is let run out, since one that is cut off in the middle of sending does not hear the answer; not where it is endless.
    if (!req.complete && !(Number(req.headers['content-length']) <= MOST_DRAINED)) res.set('Connection', 'close');
    // What was said of the file that was asked for does not hold for a refusal.
    for (const name of ['Content-Type', 'Content-Disposition', 'Content-Length', 'ETag', 'Last-Modified', 'Accept-Ranges']) res.removeHeader(name);
    res.status(STATUS[fault.code]).set('Cache-Control', 'no-store').json(toFault(fault));
  };

/** For a path that exists, but not with this method. */
export const wrongMethod =
  (...allowed: string[]): RequestHandler =>
  (req, res) => {
    res.set('Allow', allowed.join(', '));
    throw new BexlenError('method', `${req.method} is not possible here.`, `Use ${allowed.join(' or ')}.`);
  };
