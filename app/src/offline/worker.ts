/// <reference lib="webworker" />
import { CacheableResponsePlugin } from 'workbox-cacheable-response';
import { ExpirationPlugin } from 'workbox-expiration';
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute, type PrecacheEntry } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { CacheFirst, NetworkFirst } from 'workbox-strategies';
import { KEEP_HEADER, keptIn, type Kept } from './kept';
import { keepHanded } from './waiting';

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

/** What was changed is fetched again, a little later and once for all that was changed until then: a page that is opened without the server begins with it. */
const waiting = new Set<string>();
const TOGETHER_MS = 1000;
async function refresh(what: string, fetchAll: () => Promise<unknown>): Promise<void> {
  if (waiting.has(what)) return;
  waiting.add(what);
  await new Promise((resolve) => setTimeout(resolve, TOGETHER_MS));
  waiting.delete(what);
  await fetchAll().catch(() => undefined);
}

/** Fetches what is under an address for the page that is opened next. */
async function fetchKept(where: string): Promise<Response> {
  const answer = await fetch(where);
  if (answer.ok) await (await caches.open('bexlen-data')).put(where, answer.clone());
  return answer;
}
async function versionKept(where: string): Promise<void> {
  const { photoId } = (await (await fetchKept(where)).json()) as { photoId?: string };
  if (photoId !== undefined) await fetchKept(`/api/photos/${encodeURIComponent(photoId)}`);
}

/** What follows from a change that the server took. */
const CHANGES: readonly { readonly method: 'PUT' | 'PATCH' | 'POST'; readonly path: RegExp; readonly then: (path: string) => Promise<unknown> }[] = [
  { method: 'PUT', path: /^\/api\/versions\/[^/]+$/, then: versionKept },
  { method: 'PATCH', path: /^\/api\/versions\/[^/]+$/, then: versionKept },
  { method: 'POST', path: /^\/api\/uploads\/[^/]+\/take$/, then: () => fetchKept('/api/photos') },
];
for (const { method, path, then } of CHANGES)
  registerRoute(
    ({ url, sameOrigin }) => sameOrigin && path.test(url.pathname),
    async ({ url, request, event }) => {
      const answer = await fetch(request);
      const what = method === 'POST' ? 'shelf' : url.pathname;
      if (answer.ok) event.waitUntil(refresh(what, () => then(url.pathname)));
      return answer;
    },
    method,
  );

/**
 * Photos that another program hands over are kept aside, and the shelf asks what is to become of them: any page of the web can send such a form. One that says that it comes from elsewhere is not
 * even kept.
 */
registerRoute(
  ({ url, sameOrigin }) => sameOrigin && url.pathname === '/received',
  async ({ request }) => {
    if (/^https?:/.test(request.referrer) && new URL(request.referrer).origin !== self.location.origin) return Response.redirect('/', 303);
    const form = await request.formData();
    const files = (form.getAll('photos') as unknown[]).filter((file): file is File => file instanceof File && file.size > 0);
    const leftOut = await keepHanded(files);
    return Response.redirect(leftOut > 0 ? `/?leftout=${leftOut}` : '/', 303);
  },
  'POST',
);

// A newer one takes over when the page says so, never under a page that was loaded with an older one.
self.addEventListener('message', ({ data }: ExtendableMessageEvent) => {
  if (data === 'take over') void self.skipWaiting();
});
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));
