import type { RequestHandler } from 'express';
import { BexlenError } from '@bexlen/core';
import { doorOf } from '../door/doors';

/** Answers only to the machine itself, under the port that the request came to, and not to pages that are open in its browser. */
export const ownGuard: RequestHandler = (req, _res, next) => {
  const port = req.socket.localPort ?? 0;
  const host = req.headers.host ?? '';
  if (host !== `127.0.0.1:${port}` && host !== `localhost:${port}`)
    throw new BexlenError('wrong-host', 'Bexlen does not answer under this name.', `Open http://127.0.0.1:${port} instead.`);
  if (req.headers.origin !== undefined && req.headers.origin !== `http://${host}`) throw foreign();
  next();
};

/** Answers only to the names of the door that a request came through, and only to its own pages, so that no other site can reach it through the browser. */
export const guard: RequestHandler = (req, _res, next) => {
  const { names, scheme } = doorOf(req);
  const host = req.headers.host ?? '';
  if (!names.includes(host)) throw new BexlenError('wrong-host', 'Bexlen does not answer under this name.', `Open ${scheme}://${names[0]} instead.`);
  const { origin } = req.headers;
  if (origin !== undefined && origin !== `${scheme}://${host}`) throw foreign();
  const site = req.headers['sec-fetch-site'];
  const writes = req.method !== 'GET' && req.method !== 'HEAD';
  if (writes && (site === 'cross-site' || site === 'same-site')) throw foreign();
  next();
};

const foreign = (): BexlenError => new BexlenError('foreign-origin', 'This request comes from another site.', 'Use Bexlen from its own page.');
