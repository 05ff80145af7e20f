import { z } from 'zod';
import { useBench } from './bench';
import { useView } from './view';

const leaf = z.enum(['what', 'where', 'how']);
export type Leaf = z.infer<typeof leaf>;
const bench = z.object({
  version: z.string(),
  /** The opened channel, and its leaf. */
  open: z.string().optional(),
  leaf,
  look: z.object({ scale: z.number(), x: z.number(), y: z.number() }),
  surround: z.number().int().min(0).max(4),
});
const place = z.object({ bench: bench.optional(), shelf: z.object({ top: z.number(), roll: z.string().optional() }).optional() });
type Place = z.infer<typeof place>;

const KEY = 'bexlen.place';

/** Where this tab was when its page was thrown away or loaded anew; each part of it is come back to once. */
const before: Place = read();
const now: { leaf: Leaf; shelf: NonNullable<Place['shelf']> } = { leaf: 'what', shelf: { top: 0 } };

function read(): Place {
  try {
    return place.parse(JSON.parse(globalThis.sessionStorage?.getItem(KEY) ?? '{}'));
  } catch {
    return {};
  }
}

function write(): void {
  const { versionId, open } = useBench.getState();
  const { look, surround } = useView.getState();
  const on = versionId ? { bench: { version: versionId, ...(open !== undefined && { open }), leaf: now.leaf, look, surround } } : {};
  try {
    sessionStorage.setItem(KEY, JSON.stringify({ ...on, shelf: now.shelf } satisfies Place));
  } catch {
    // Without storage it begins at the beginning.
  }
}

/** Saves the current place whenever the page may be closed: systems discard pages that are out of sight without warning. */
export function notePlace(): () => void {
  const hidden = (): void => void (document.hidden && write());
  document.addEventListener('visibilitychange', hidden);
  window.addEventListener('pagehide', write);
  return () => {
    document.removeEventListener('visibilitychange', hidden);
    window.removeEventListener('pagehide', write);
  };
}

type Bench = NonNullable<Place['bench']>;

/** Returns a part of the place where the bench was in this version, once. */
export function comeBack<K extends 'open' | 'leaf' | 'look' | 'surround'>(version: string, part: K): Bench[K] | undefined {
  const there = before.bench;
  if (there?.version !== version) {
    // It was left for another one since.
    if (version) delete before.bench;
    return undefined;
  }
  const value = there[part];
  delete (there as Partial<Bench>)[part];
  return value;
}

export const noteLeaf = (chosen: Leaf): void => void (now.leaf = chosen);

/** Returns the place where the shelf was, once. */
export function shelfBefore(): Place['shelf'] {
  const { shelf } = before;
  delete before.shelf;
  return shelf;
}
export const noteShelf = (shelf: Partial<NonNullable<Place['shelf']>>): void => void Object.assign(now.shelf, shelf);
