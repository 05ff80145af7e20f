/// <reference lib="webworker" />
import { CacheableResponsePlugin } from 'workbox-cacheable-response';
import { ExpirationPlugin } from 'workbox-expiration';
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute, type PrecacheEntry } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { CacheFirst, NetworkFirst } from 'workbox-strategies';
import { KEEP_HEADER, keptIn, type Kept } from './kept';

declare const self: ServiceWorkerGlobalScope;
/** All files of the page, by content; filled in when the page is built. */
declare const PAGE_FILES: (string | PrecacheEntry)[];

/** The server of a machine on the other side of a dead network does not refuse, it is silent. */
const SILENT_S = 5;
/** Of each kind, entries that are kept: the last photos in working size, with all small pictures that are at hand. */
const MOST: Record<Kept, number> = { data: 300, small: 600, pixels: 48, named: 300 };

precacheAndRoute(PAGE_FILES);
cleanupOutdatedCaches();
registerRoute(new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: [/^\/(pair|api|authority\.crt)/] }));

const plugins = (name: Kept) => [
  new CacheableResponsePlugin({ statuses: [200] }),
  new ExpirationPlugin({ maxEntries: MOST[name], purgeOnQuotaError: true }),
];
const strategies = {
  data: new NetworkFirst({ cacheName: 'bexlen-data', networkTimeoutSeconds: SILENT_S, plugins: plugins('data') }),
  small: new CacheFirst({ cacheName: 'bexlen-small', plugins: plugins('small') }),
  pixels: new CacheFirst({ cacheName: 'bexlen-pixels', plugins: plugins('pixels') }),
  named: new CacheFirst({ cacheName: 'bexlen-named', plugins: plugins('named') }),
} satisfies Record<Kept, CacheFirst | NetworkFirst>;

registerRoute(
  ({ url, sameOrigin, request }) => sameOrigin && keptIn(url, request.headers.has(KEEP_HEADER)) !== undefined,
  ({ url, request, event }) => strategies[keptIn(url, request.headers.has(KEEP_HEADER)) as Kept].handle({ event, request }),
);

/** What a version has become is fetched again once a change of it was kept: a page that is opened without the server begins with it. */
const waiting = new Map<string, Promise<void>>();
const TOGETHER_MS = 1000;
function refresh(version: string, event: ExtendableEvent): void {
  if (waiting.has(version)) return;
  const fetched = new Promise((resolve) => setTimeout(resolve, TOGETHER_MS)).then(async () => {
    waiting.delete(version);
    const cache = await caches.open('bexlen-data');
    const fetchInto = async (where: string): Promise<Response> => {
      const answer = await fetch(where);
      if (answer.ok) await cache.put(where, answer.clone());
      return answer;
    };
    const { photoId } = (await (await fetchInto(version)).json()) as { photoId?: string };
    if (photoId !== undefined) await fetchInto(`/api/photos/${encodeURIComponent(photoId)}`);
  });
  const done = fetched.then(
    () => undefined,
    () => undefined,
  );
  waiting.set(version, done);
  event.waitUntil(done);
}
for (const method of ['PUT', 'PATCH'] as const)
  registerRoute(
    ({ url, sameOrigin }) => sameOrigin && /^\/api\/versions\/[^/]+$/.test(url.pathname),
    async ({ url, request, event }) => {
      const answer = await fetch(request);
      if (answer.ok) refresh(url.pathname, event);
      return answer;
    },
    method,
  );

// A newer one takes over when the page says so, never under a page that was loaded with an older one.
self.addEventListener('message', ({ data }: ExtendableMessageEvent) => {
  if (data === 'take over') void self.skipWaiting();
});
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));
