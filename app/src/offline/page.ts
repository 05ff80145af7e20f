import { keptIn, KEEP_HEADER } from './kept';

/** How long is waited for a newer page to be ready. */
const PATIENCE_MS = 15_000;
/** How long requests may take that were under way when the page got somebody to keep their answers. */
const UNDER_WAY_MS = 60_000;

/** Lets the browser keep the page and the last photos for when the server is away. Where it cannot, all goes on as without. */
export function keepForLater(): void {
  if (!('serviceWorker' in navigator)) return;
  const first = !navigator.serviceWorker.controller;
  navigator.serviceWorker.register('/sw.js', { updateViaCache: 'none' }).catch(() => undefined);
  // What was asked for before there was somebody to keep it is asked for once more: most of it comes out of the browser's own cache.
  if (first) navigator.serviceWorker.addEventListener('controllerchange', keepAskedBefore, { once: true });
}

/** Fetches again what was asked for before now. A request is listed when it has ended, so those under way are waited for. */
function keepAskedBefore(): void {
  const now = performance.now();
  const seen = new Set<string>();
  const observer = new PerformanceObserver((list) => {
    for (const { name, startTime } of list.getEntries()) {
      if (startTime > now || seen.has(name) || !keptIn(new URL(name), true)) continue;
      seen.add(name);
      fetch(name, { headers: { [KEEP_HEADER]: '1' } }).catch(() => undefined);
    }
  });
  observer.observe({ type: 'resource', buffered: true });
  setTimeout(() => observer.disconnect(), UNDER_WAY_MS);
}

/** Loads the page anew as the server has it now. */
export async function loadAnew(): Promise<void> {
  const there = await navigator.serviceWorker?.getRegistration().catch(() => undefined);
  if (there) await newest(there);
  location.reload();
}

/** Waits until the newest page is kept and in charge. */
async function newest(there: ServiceWorkerRegistration): Promise<void> {
  await there.update().catch(() => undefined);
  const next = there.waiting ?? there.installing;
  if (!next) return;
  await new Promise<void>((resolve) => {
    const timer = setTimeout(resolve, PATIENCE_MS);
    const look = (): void => {
      if (next.state === 'installed') next.postMessage('take over');
      if (next.state !== 'activated' && next.state !== 'redundant') return;
      clearTimeout(timer);
      resolve();
    };
    next.addEventListener('statechange', look);
    look();
  });
}

/** Removes photos and all else of the server's that is kept here. What was not sent yet stays. */
export async function forgetKept(): Promise<void> {
  const names = await globalThis.caches?.keys().catch(() => []);
  await Promise.all((names ?? []).filter((name) => name.startsWith('bexlen-')).map((name) => caches.delete(name)));
}
