import type { RequestParamHandler } from 'express';
import { BexlenError } from '@bexlen/core';

const ID = /^[0-9a-z-]{1,60}$/i;

/** Ids are letters, digits and hyphens; nothing else is looked up. */
export const knownId: RequestParamHandler = (_req, _res, next, id: string) => {
  next(ID.test(id) ? undefined : new BexlenError('not-found', 'There is nothing of this name.', 'Go back to the shelf; it may have been removed.'));
};
