import { whenIdle } from '../offline/idle';
import { later } from './later';

export const bench = later(async () => (await import('../bench/Bench')).Bench);
export const lookbook = later(async () => (await import('../looks/Lookbook')).Lookbook);
export const exportList = later(async () => (await import('../exports/Exports')).Exports);

/** The shelf shows its pictures first. */
const AFTER_MS = 1000;

/** Fetches the code of all screens when the page has nothing else to do. */
export const fetchScreens = (): (() => void) => whenIdle(AFTER_MS, () => [bench, lookbook, exportList].forEach(({ fetch }) => fetch()));
