import type { Painted, Stroke } from './stroke';

/** A stroke that is being painted: it has a name for the moment only. */
const LIVE = 'live-';
export const liveName = (n: number): string => `${LIVE}${n}`;
export const isLive = (name: string): boolean => name.startsWith(LIVE);

/** The stroke that is being painted, and the one that was: a frame with it may be under way. */
const LIVE_KEPT = 2;

/** Painted strokes by their names. */
export class Strokes {
  private readonly painted = new Map<string, Painted>();
  private readonly live: string[] = [];

  /** Takes a stroke in. One that is being painted takes the place of what it was before. */
  set(name: string, painted: Painted): void {
    if (isLive(name) && !this.painted.has(name)) {
      this.live.push(name);
      if (this.live.length > LIVE_KEPT) this.painted.delete(this.live.shift() as string);
    }
    this.painted.set(name, painted);
  }

  get(name: string): Painted | undefined {
    return this.painted.get(name);
  }

  /** Lets go of all but those that are needed. */
  keepOnly(needed: (name: string) => boolean): void {
    for (const name of [...this.painted.keys()]) if (isLive(name) || !needed(name)) this.painted.delete(name);
    this.live.length = 0;
  }

  get size(): number {
    return this.painted.size;
  }

  /** Names of all strokes of a painting, the first one first, as far as they are at hand; and the first that is not. */
  chainTo(name: string): { readonly names: readonly string[]; readonly missing?: string } {
    const names: string[] = [];
    let at = name;
    while (at !== '') {
      const painted = this.painted.get(at);
      if (!painted) return { names: names.reverse(), missing: at };
      names.push(at);
      at = painted.after;
    }
    return { names: names.reverse() };
  }

  /** A stroke that is at hand. */
  strokeOf(name: string): Stroke {
    return (this.painted.get(name) as Painted).stroke;
  }

  /** Strokes of some paintings that follow the last ones that are kept elsewhere, each after the one it follows. */
  since(names: Iterable<string>, isKept: (name: string) => boolean): Painted[] {
    const found = new Map<string, Painted>();
    for (const name of names) {
      const chain: [string, Painted][] = [];
      for (let at = name; at !== '' && !isKept(at) && !found.has(at) && !isLive(at);) {
        const painted = this.painted.get(at);
        if (!painted) break;
        chain.push([at, painted]);
        at = painted.after;
      }
      chain.reverse().forEach(([at, painted]) => found.set(at, painted));
    }
    return [...found.values()];
  }
}
