import { isLive, layersWithout, nameOf, namersOf, type Painted, type Stack } from '@bexlen/core';
import { markKept } from '../state/strokes';
import { server } from '../state/server';
import { resources } from '../state/resources';
import { say } from '../words';

/** Painted strokes that stacks name, on their way from the server to the workers. */
export class Strokes {
  /** Names that the workers know. */
  private readonly there = new Set<string>();
  private readonly coming = new Set<string>();
  /** Asked for and not to be had: what is painted is shown without them. */
  private readonly lost = new Set<string>();

  /**
   * @param send hands strokes to the workers.
   * @param come told when strokes that were missing are there.
   */
  constructor(
    private readonly send: (strokes: readonly (readonly [string, Painted])[]) => void,
    private readonly come: () => void,
    private readonly fault: (message: string) => void,
  ) {}

  /** Whether all strokes that some stacks name are with the workers, as far as they are to be had; those that are not are sent for. */
  ready(stacks: readonly Stack[]): boolean {
    let waiting = false;
    for (const stack of stacks)
      for (const name of namersOf(stack.layers, 'painting').keys()) {
        const { missing } = resources.strokes.chainTo(name);
        if (missing === undefined || this.lost.has(missing)) this.hand(name);
        else {
          waiting = true;
          if (!this.coming.has(name)) void this.fetch(name, stack);
        }
      }
    return !waiting;
  }

  /** Those of a painting that the workers do not know yet. */
  private hand(name: string): void {
    const fresh: [string, Painted][] = [];
    for (let at = name; at !== '' && !this.there.has(at);) {
      const painted = resources.strokes.get(at);
      if (!painted) break;
      fresh.push([at, painted]);
      // One that is being painted is never named again.
      if (!isLive(at)) this.there.add(at);
      at = painted.after;
    }
    if (fresh.length > 0) this.send(fresh);
  }

  private async fetch(name: string, stack: Stack): Promise<void> {
    this.coming.add(name);
    try {
      const { strokes, missing } = await server.painting(name);
      for (const painted of strokes) {
        resources.strokes.set(nameOf(painted), painted);
        markKept(nameOf(painted));
      }
      if (missing !== undefined) {
        this.lost.add(missing);
        const [layer] = layersWithout(stack, resources);
        this.fault(say.engine.strokesOfNameAreNotKept(layer?.name ?? ''));
      }
      this.come();
    } catch {
      setTimeout(() => this.come(), 1500);
    } finally {
      this.coming.delete(name);
    }
  }
}
