import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { Router, type RequestHandler } from 'express';
import staticGzip from 'express-static-gzip';
import helmet from 'helmet';
import { BexlenError } from '@bexlen/core';

/** Inline blocks of the built page, as the content security policy names them. */
function inlineHashes(html: string, tag: 'style' | 'script'): string[] {
  const blocks = [...html.matchAll(new RegExp(`<${tag}(?![^>]*\\ssrc=)[^>]*>([\\s\\S]*?)</${tag}>`, 'g'))];
  return blocks
    .filter(([, body]) => body)
    .map(
      ([, body]) =>
        `'sha256-${createHash('sha256')
          .update(body as string)
          .digest('base64')}'`,
    );
}

/** The hash of nothing: the app's style sheet begins as an empty block and is filled through the CSS object model. */
const EMPTY_BLOCK = "'sha256-47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU='";

/** Headers of every answer: cross-origin isolation for shared memory, and nothing from anywhere else. */
export function headers(site: string): RequestHandler {
  const html = fs.readFileSync(path.join(site, 'index.html'), 'utf8');
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'", ...inlineHashes(html, 'script')],
        styleSrc: ["'self'", EMPTY_BLOCK, ...inlineHashes(html, 'style')],
        workerSrc: ["'self'"],
        connectSrc: ["'self'"],
        imgSrc: ["'self'", 'blob:', 'data:'],
        fontSrc: ["'self'"],
        manifestSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginResourcePolicy: { policy: 'same-origin' },
    strictTransportSecurity: false,
  });
}

/** The programs that the exported page starts, by their addresses: others are another page. */
export const pageIn = (site: string): string =>
  [...fs.readFileSync(path.join(site, 'index.html'), 'utf8').matchAll(/<script[^>]+src="([^"]+)"/g)].map(([, address]) => address).join(' ');

/** The exported app, in the compressed forms that lie beside its files. Hashed files are cached for ever, the page never. */
export function site(folder: string): Router {
  const router = Router();
  router.use(
    staticGzip(folder, {
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      index: false,
      serveStatic: {
        index: false,
        setHeaders: (res, file) =>
          void res.setHeader('Cache-Control', /[/\\](_expo|engine)[/\\]/.test(file) ? 'public, max-age=31536000, immutable' : 'no-cache'),
      },
    }),
  );
  // A program that is not there any more belongs to a page that is older than this one.
  router.get(['/_expo/{*path}', '/engine/{*path}', '/sw.js'], () => {
    throw new BexlenError('not-found', 'This part of the page is not here any more.', 'Load the page anew.');
  });
  router.get('/{*path}', (_req, res) => res.set('Cache-Control', 'no-cache').sendFile(path.join(folder, 'index.html')));
  return router;
}
