import { keptIn, KEEP_HEADER } from './kept';

/** How long is waited for a newer page to be ready. */
const PATIENCE_MS = 15_000;

/** Lets the browser keep the page and the last photos for when the server is away. Where it cannot, all goes on as without. */
export function keepForLater(): void {
  if (!('serviceWorker' in navigator)) return;
  const first = !navigator.serviceWorker.controller;
  navigator.serviceWorker.register('/sw.js', { updateViaCache: 'none' }).catch(() => undefined);
  // What was fetched before there was somebody to keep it is asked for once more: most of it comes out of the browser's own cache.
  if (first) navigator.serviceWorker.addEventListener('controllerchange', () => void keepFetched(), { once: true });
}

async function keepFetched(): Promise<void> {
  const urls = new Set(performance.getEntriesByType('resource').map(({ name }) => name));
  for (const url of urls) if (keptIn(new URL(url), true)) await fetch(url, { headers: { [KEEP_HEADER]: '1' } }).catch(() => undefined);
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
