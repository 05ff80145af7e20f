import type { Painted, Stroke } from './stroke';

const library = new Map<string, Painted>();

/** Puts painted strokes where layers find them by name. */
export const provideStroke = (name: string, painted: Painted): void => void library.set(name, painted);
export const paintedOf = (name: string): Painted | undefined => library.get(name);

/** A stroke that is being painted: it has a name for the moment only. */
const LIVE = 'live-';
export const liveName = (n: number): string => `${LIVE}${n}`;
export const isLive = (name: string): boolean => name.startsWith(LIVE);

/** Names of all strokes of a painting, the first one first, as far as they are at hand; and the first that is not. */
export function strokesTo(name: string): { readonly names: readonly string[]; readonly missing?: string } {
  const names: string[] = [];
  let at = name;
  while (at !== '') {
    const painted = library.get(at);
    if (!painted) return { names: names.reverse(), missing: at };
    names.push(at);
    at = painted.after;
  }
  return { names: names.reverse() };
}

export const strokeOf = (name: string): Stroke => (library.get(name) as Painted).stroke;

/** Strokes of some paintings that follow the last ones that are kept elsewhere, each after the one it follows. */
export function strokesSince(names: Iterable<string>, isKept: (name: string) => boolean): Painted[] {
  const found = new Map<string, Painted>();
  for (const name of names) {
    const chain: [string, Painted][] = [];
    for (let at = name; at !== '' && !isKept(at) && !found.has(at) && !isLive(at);) {
      const painted = library.get(at);
      if (!painted) break;
      chain.push([at, painted]);
      at = painted.after;
    }
    chain.reverse().forEach(([at, painted]) => found.set(at, painted));
  }
  return [...found.values()];
}
