import type { RequestHandler } from 'express';
import { BexlenError } from '@bexlen/core';

/** Answers only to its own name and to its own pages, so that no other site can reach it through the browser. */
export const guard: RequestHandler = (req, _res, next) => {
  const port = req.socket.localPort;
  const names = [`127.0.0.1:${port}`, `localhost:${port}`];
  const host = req.headers.host ?? '';
  if (!names.includes(host)) throw new BexlenError('wrong-host', 'Bexlen does not answer under this name.', `Open http://${names[0]} instead.`);
  const { origin } = req.headers;
  if (origin !== undefined && origin !== `http://${host}`) throw foreign();
  const site = req.headers['sec-fetch-site'];
  const writes = req.method !== 'GET' && req.method !== 'HEAD';
  if (writes && (site === 'cross-site' || site === 'same-site')) throw foreign();
  next();
};

const foreign = (): BexlenError => new BexlenError('foreign-origin', 'This request comes from another site.', 'Use Bexlen from its own page.');
