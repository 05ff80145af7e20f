import { later } from './later';

export const bench = later(async () => (await import('../bench/Bench')).Bench);
export const lookbook = later(async () => (await import('../looks/Lookbook')).Lookbook);
export const exports = later(async () => (await import('../exports/Exports')).Exports);

/** Fetches the code of all screens when the page has nothing else to do. */
export function fetchScreens(): () => void {
  const idle = globalThis.requestIdleCallback ?? ((act: () => void) => setTimeout(act, 0));
  const timer = setTimeout(() => idle(() => [bench, lookbook, exports].forEach(({ fetch }) => fetch())), AFTER_MS);
  return () => clearTimeout(timer);
}
/** The shelf shows its pictures first. */
const AFTER_MS = 1000;
