import { z } from 'zod';
import { longEdge, type Size } from '@bexlen/core';
import { PIXEL_EDGES } from '@bexlen/api';
import { keepHabit, readHabit } from '../state/habits';

/** What a machine gives to pictures, by its memory in GB: the longest working size, and workers. */
const BY_MEMORY: readonly { readonly upTo: number; readonly edge: number; readonly workers: number }[] = [
  { upTo: 2, edge: 1024, workers: 2 },
  { upTo: 4, edge: 1536, workers: 4 },
  { upTo: Infinity, edge: 2048, workers: 4 },
];
/** Of machines that do not tell their memory: phones by their screens, and all others. */
const PHONE = { side: 500, memory: 4 };
const OTHERS = 8;

/** The memory of this machine in GB, as far as it tells. */
function memory(): number {
  const told = (navigator as { deviceMemory?: number }).deviceMemory;
  const { width = 0, height = 0 } = globalThis.screen ?? {};
  const phone = width > 0 && Math.min(width, height) < PHONE.side;
  // Browsers tell 8 at most, and phones share theirs with all else that is open.
  return told ?? (phone ? PHONE.memory : OTHERS);
}
const bounds = (): (typeof BY_MEMORY)[number] => BY_MEMORY.find(({ upTo }) => memory() <= upTo) ?? { upTo: Infinity, edge: 2048, workers: 4 };

/** Workers of the pool where memory is shared. */
export const workersHere = (): number => Math.max(1, Math.min(bounds().workers, navigator.hardwareConcurrency || 1));

/** Whether the screen shows what Display P3 has beyond sRGB, now and as the page moves from one screen to another; nothing, where nobody tells. */
export const wideScreen = (): MediaQueryList | undefined => globalThis.matchMedia?.('(color-gamut: p3)');

/** Tells when the page has come to a screen of another gamut. Returns how to stop listening. */
export function followScreen(act: () => void): () => void {
  const wide = wideScreen();
  wide?.addEventListener('change', act);
  return () => wide?.removeEventListener('change', act);
}

const KEY = 'bexlen-pace';
/** Milliseconds a megapixel that whole frames took here while something was dragged; 0 before enough of them were seen. */
const pace = z.number().min(0).max(100_000);
/** Frames that are looked at before it is believed, and how long one may take. */
const FRAMES = 30;
const MOST_MS = 400;
let seen: number[] = [];

/** Notes how long a whole frame took while something was dragged. What is learnt holds from the next time that the page is opened. */
export function notePace(ms: number, { width, height }: Size): void {
  seen.push((ms * 1e6) / (width * height));
  if (seen.length < FRAMES) return;
  keepHabit(KEY, seen.sort((a, b) => a - b)[FRAMES >> 1]);
  seen = [];
}
const paceHere = readHabit(KEY, pace, 0);

/** Room that a phone's bench takes above the photo, in points. */
const BAR = 52;
/** Nobody sees finer pixels than this many to a point. */
const FINEST = { phone: 3, others: 2 };

/**
 * The least working size (long edge) that fills a screen with a photo, as far as the machine is up to it: on a phone as the photo lies, since the screen is narrow and memory is short.
 * @param screen points, and pixels to a point in `scale`.
 */
export function workingEdge(screen: Size & { readonly scale: number }, photo: Size): number {
  // Of the whole screen: a keyboard that covers half of it for a moment is not to fetch the photo anew.
  const { width: w, height: h } = globalThis.screen?.width > 0 ? globalThis.screen : screen;
  const phone = Math.min(w, h) < PHONE.side;
  const [short, long] = [Math.min(w, h), Math.max(w, h)];
  const room = screen.width > screen.height ? { width: long, height: short - BAR } : { width: short, height: long - BAR };
  const fits = longEdge(photo) * Math.min(room.width / photo.width, room.height / photo.height);
  const wanted = phone ? fits * Math.min(screen.scale, FINEST.phone) : longEdge(screen) * Math.min(screen.scale, FINEST.others);
  const share = (photo.width * photo.height) / longEdge(photo) ** 2;
  const fast = (edge: number): boolean => (paceHere * edge * edge * share) / 1e6 <= MOST_MS;
  const edges = PIXEL_EDGES.filter((edge) => edge > 256 && (edge <= 1024 || (edge <= bounds().edge && fast(edge))));
  return edges.find((edge) => edge >= wanted) ?? edges[edges.length - 1] ?? 1024;
}

/** Whether workers can share memory: the page must be isolated, and the browser must have it, which is not the same everywhere. */
export function sharesMemory(): boolean {
  try {
    const { buffer } = new WebAssembly.Memory({ initial: 1, maximum: 1, shared: true });
    return globalThis.crossOriginIsolated && buffer instanceof SharedArrayBuffer;
  } catch {
    return false;
  }
}
