import { namedIn, type Pixels, type Stack } from '@bexlen/core';
import { fetchPicture } from './pixels';
import { resources } from '../state/resources';
import { say } from '../words';

/** A pixel of nothing: tells the page that a picture is at hand, which only the workers hold. */
const THERE: Pixels = { layout: { width: 1, height: 1, depth: 8, channels: 3 }, bytes: new Uint8Array(3) };

/** Other photos that stacks lay over theirs, on their way from the server to the workers, in working size. */
export class Pictures {
  /** The long edge in which they are fetched: that of the photo that is open. */
  edge = 0;
  /** The edge that each was fetched with. */
  private readonly there = new Map<string, number>();
  private readonly coming = new Set<string>();
  /** Asked for and not on the shelf: what lies beneath is shown without them. */
  private readonly lost = new Set<string>();

  /**
   * @param send hands one to the workers.
   * @param come told when one that was missing is there.
   */
  constructor(
    private readonly send: (name: string, pixels: Pixels) => void,
    private readonly come: () => void,
    private readonly notice: (message: string) => void,
  ) {}

  /** Whether all photos that some stacks name are with the workers, as far as they are to be had; those that are not are sent for. */
  ready(stacks: readonly Stack[]): boolean {
    const names = new Set(stacks.flatMap(({ layers }) => namedIn(layers, 'photo')).filter((name) => name !== ''));
    const missing = [...names].filter((name) => !this.lost.has(name) && (this.there.get(name) ?? 0) < this.edge);
    missing.filter((name) => !this.coming.has(name)).forEach((name) => void this.fetch(name));
    return missing.length === 0;
  }

  private async fetch(name: string): Promise<void> {
    this.coming.add(name);
    const { edge } = this;
    try {
      const pixels = await fetchPicture(name, edge);
      if (pixels) {
        this.send(name, pixels);
        resources.pictures.set(name, THERE);
        this.there.set(name, edge);
      } else {
        this.lost.add(name);
        this.notice(say.engine.aPhotoThatIsLaidOver);
      }
      this.come();
    } catch {
      setTimeout(() => this.come(), 1500);
    } finally {
      this.coming.delete(name);
    }
  }
}
