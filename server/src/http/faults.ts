import type { ErrorRequestHandler, RequestHandler } from 'express';
import { MulterError } from 'multer';
import { ZodError } from 'zod';
import { BexlenError, type FaultCode } from '@bexlen/core';
import type { Fault } from '../api';
import type { Log } from '../log';

const STATUS: Record<FaultCode, number> = {
  'bad-request': 400,
  'not-found': 404,
  method: 405,
  conflict: 409,
  'wrong-host': 421,
  'foreign-origin': 403,
  'too-large': 413,
  'no-picture': 415,
  'unsupported-format': 415,
  'damaged-picture': 422,
  'too-many-pixels': 422,
  'bad-version': 422,
  'disk-full': 507,
  'folder-in-use': 423,
  memory: 507,
  cancelled: 409,
  internal: 500,
};

/** Any error as a fault with a code, a sentence and what to do. */
export function asFault(error: unknown): BexlenError {
  if (error instanceof BexlenError) return error;
  if (error instanceof ZodError)
    return new BexlenError('bad-request', zodSentence(error), 'Nothing was changed. Send the request as the API describes it.');
  if (error instanceof MulterError)
    return error.code === 'LIMIT_FILE_SIZE'
      ? new BexlenError('too-large', 'The file is larger than an import may be.', 'Make it smaller and import it again.')
      : new BexlenError('bad-request', `The upload is not as expected: ${error.message}.`, 'Send one file in the field “photo”.');
  const { code, type } = (error ?? {}) as { code?: string; type?: string };
  if (code === 'ENOSPC' || code === 'EDQUOT')
    return new BexlenError('disk-full', 'The disk is full.', 'Make room on the disk, then try again. Nothing that was kept is lost.');
  if (type === 'entity.too.large') return new BexlenError('too-large', 'The request is too large.', 'A version takes at most 200 layers.');
  if (type === 'entity.parse.failed') return new BexlenError('bad-request', 'The request is not JSON.', 'Send it again as JSON.');
  if (isDiskFull(error))
    return new BexlenError('disk-full', 'The disk is full.', 'Make room on the disk, then try again. Nothing that was kept is lost.');
  return new BexlenError('internal', 'Something went wrong on the server.', 'Try again. If it happens again, look at the server’s messages.');
}

/** Encoders report a full disk in words only. */
const isDiskFull = (error: unknown): boolean => error instanceof Error && /no space left|disk full|write error/i.test(error.message);

function zodSentence(error: ZodError): string {
  const issue = error.issues[0];
  return issue ? `${issue.path.map(String).join('.') || 'The request'}: ${issue.message}` : 'The request cannot be read.';
}

export const toFault = ({ code, message, hint }: BexlenError): Fault => ({ code, message, hint });

/** The one place where errors become answers. */
export const answerFault =
  (log: Log): ErrorRequestHandler =>
  (error, req, res, next) => {
    const fault = asFault(error);
    if (fault.code === 'internal') log.error({ err: error as unknown, url: req.url }, 'request failed');
    if (res.headersSent) return next(error);
    if (!req.complete) res.set('Connection', 'close');
    res.status(STATUS[fault.code]).json(toFault(fault));
  };

/** For a path that exists, but not with this method. */
export const wrongMethod =
  (...allowed: string[]): RequestHandler =>
  (req, res) => {
    res.set('Allow', allowed.join(', '));
    throw new BexlenError('method', `${req.method} is not possible here.`, `Use ${allowed.join(' or ')}.`);
  };
