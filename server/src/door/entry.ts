import path from 'node:path';
import * as cookies from 'cookie';
import express, { Router, type CookieOptions, type Request, type RequestHandler, type Response } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import { BexlenError } from '@bexlen/core';
import { pairing, whoAsks, type Device } from '@bexlen/api';
import { wrongMethod } from '../http/faults';
import type { Devices } from '../store/devices';
import type { Codes } from './codes';
import { doorOf, type Doors } from './doors';

/** Its name binds it to this host and to HTTPS (RFC 6265bis, 4.1.3.2). */
const COOKIE = '__Host-bexlen-device';
/** Browsers keep no cookie longer. */
const COOKIE_MS = 400 * 86_400_000;
const OPTIONS: CookieOptions = { httpOnly: true, secure: true, sameSite: 'strict', path: '/', maxAge: COOKIE_MS };
/** Codes that may be tried wrongly from one address. */
const TRIES = 10;
const TRIES_MS = 60_000;
/** What any browser may have of the page: its marks, and how it is installed. */
const MARKS = /^\/(manifest\.webmanifest|mark\.svg|icons\/[\w-]+\.png)$/;
/** What the pairing page is made of. */
const PAGE_PARTS = ['pair.css', 'pair.js'];
const SHARED_PARTS = [
  '/fonts/barlow-semi-condensed-latin-400-normal.woff2',
  '/fonts/barlow-semi-condensed-latin-600-normal.woff2',
  '/fonts/spline-sans-mono-latin-500-normal.woff2',
];

const asks = new WeakMap<Request, Device>();

/** The device that asks; nobody is on the machine itself. */
export const deviceOf = (req: Request): Device | undefined => asks.get(req);

/** For what only the machine itself may do. */
export const atHome: RequestHandler = (req, _res, next) => {
  if (doorOf(req).kind !== 'home')
    throw new BexlenError('not-found', 'Only available on the computer running Bexlen.', 'Open Phone in Bexlen there.');
  next();
};

/**
 * Who comes from outside gets the pairing page and nothing else, until a good code was shown; then a device that is listed. The machine itself is let through.
 * @param page the folder of the built pairing page.
 */
export function entry(doors: Doors, codes: Codes, devices: Devices, page: string): Router {
  const router = Router();
  const outside: RequestHandler = (req, _res, next) => next(doorOf(req).kind === 'home' ? 'router' : undefined);
  router.use(outside);
  router.get('/pair', (_req, res) => res.set('Cache-Control', 'no-store').sendFile(path.join(page, 'pair.html')));
  for (const part of PAGE_PARTS) router.get(`/${part}`, (_req, res) => res.set('Cache-Control', 'no-cache').sendFile(path.join(page, part)));
  router.get('/authority.crt', (_req, res) => {
    const pem = doors.authority;
    if (!pem) throw new BexlenError('not-found', 'There is no authority here.', 'The name that you opened is vouched for by others.');
    res.set('Cache-Control', 'no-store').attachment('bexlen-authority.crt').type('application/x-x509-ca-cert').send(pem);
  });
  router
    .route('/pair')
    .post(tries(), express.json({ limit: '4kb' }), async (req, res) => {
      const { code, name } = pairing.parse(req.body);
      await codes.take(code);
      const { device, secret } = await devices.add(name ?? nameOf(req.headers['user-agent']));
      res.cookie(COOKIE, secret, OPTIONS).set('Cache-Control', 'no-store').status(201).json(whoAsks.parse({ device }));
    })
    .all(wrongMethod('GET', 'POST'));
  router.use(async (req, res, next) => {
    const secret = cookies.parse(req.headers.cookie ?? '')[COOKIE];
    const device = secret === undefined ? undefined : await devices.by(secret);
    if (!device || secret === undefined) return unknown(req, res, next);
    asks.set(req, device);
    await devices.asks(device.id, req);
    // It lasts as long as it is used.
    if (req.headers['sec-fetch-mode'] === 'navigate') res.cookie(COOKIE, secret, OPTIONS);
    next();
  });
  return router;
}

const unknown = (req: Request, res: Response, next: () => void): void => {
  if (req.method === 'GET' && (SHARED_PARTS.includes(req.path) || MARKS.test(req.path))) return next();
  // A device that was sent away is to hold no pictures any more.
  if (req.headers.cookie?.includes(COOKIE)) res.set('Clear-Site-Data', '"cache"');
  if (req.method === 'GET' && !req.path.startsWith('/api') && req.accepts(['json', 'html']) === 'html') return res.redirect(302, '/pair');
  throw new BexlenError(
    'not-paired',
    'This device is not paired with Bexlen, or was sent away.',
    'Open Phone in Bexlen on the machine that it runs on, and scan the code there.',
  );
};

/** Counts codes that were tried wrongly, by the address that they came from. */
const tries = (): RequestHandler =>
  rateLimit({
    windowMs: TRIES_MS,
    limit: TRIES,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    skipSuccessfulRequests: true,
    validate: { xForwardedForHeader: false },
    keyGenerator: (req) => `${doorOf(req).kind} ${ipKeyGenerator(whoFrom(req))}`,
    handler: () => {
      throw new BexlenError('too-many-tries', 'Too many codes were tried.', 'Wait a minute, then scan a new code.');
    },
  });

/** The address that a request comes from: what a proxy says it is, where one stands in front. */
function whoFrom(req: Request): string {
  const { kind } = doorOf(req);
  const said =
    kind === 'proxy'
      ? String(req.headers['x-forwarded-for'] ?? '')
          .split(',')
          .at(-1)
          ?.trim()
      : '';
  return said || req.socket.remoteAddress || '';
}

const MACHINES: readonly [RegExp, string][] = [
  [/iPhone/, 'iPhone'],
  [/iPad/, 'iPad'],
  [/Android/, 'Android'],
  [/Windows/, 'Windows'],
  [/Macintosh/, 'Mac'],
  [/Linux|X11/, 'Linux'],
];

/** What a device is called until somebody names it. */
const nameOf = (agent = ''): string => MACHINES.find(([pattern]) => pattern.test(agent))?.[1] ?? 'A device';
