import { useEffect, useState } from 'react';
import type { Stack } from '@bexlen/core';
import type { Small } from './studio';
import { smallPictures } from './preview';
import { usePreview } from './shown';
import { useHeld } from '../state/held';

const REST_MS = 180;

type Ask = typeof smallPictures;
type Wanted = Stack | Small;

/** The small pictures of a list: each is made once it is in sight, and heard of by none but who shows it. */
export class Smalls {
  private readonly images = new Map<number, ImageData>();
  private readonly inSight = new Set<number>();
  private readonly asked = new Set<number>();
  private readonly listeners = new Map<number, Set<() => void>>();
  private stackAt: ((i: number) => Wanted | undefined) | undefined;
  private stops: (() => void)[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly ask: Ask = smallPictures) {}

  at = (i: number): ImageData | undefined => this.images.get(i);

  heed(i: number, listener: () => void): () => void {
    const all = this.listeners.get(i) ?? new Set();
    this.listeners.set(i, all.add(listener));
    return () => void all.delete(listener);
  }

  see(i: number, seen: boolean): void {
    if (!seen) return void this.inSight.delete(i);
    this.inSight.add(i);
    this.soon();
  }

  /** Makes them anew, of other stacks. Until then those before stay. */
  begin(stackAt: (i: number) => Wanted | undefined): void {
    this.end();
    this.stackAt = stackAt;
    this.soon();
  }

  end(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.stops.forEach((stop) => stop());
    this.stops = [];
    this.asked.clear();
    this.stackAt = undefined;
  }

  private soon(): void {
    if (this.stackAt && this.timer === undefined) this.timer = setTimeout(() => this.make(), REST_MS);
  }

  private make(): void {
    this.timer = undefined;
    const next = [...this.inSight].filter((i) => !this.asked.has(i)).sort((a, b) => a - b);
    const wanted = next.flatMap((i) => {
      this.asked.add(i);
      const it = this.stackAt?.(i);
      return it ? [{ i, small: 'stack' in it ? it : { stack: it } }] : [];
    });
    if (wanted.length === 0) return;
    const stop = this.ask(
      wanted.map(({ small }) => small),
      (k, image) => this.keep(wanted[k]?.i ?? 0, image),
    );
    this.stops.push(stop);
  }

  private keep(i: number, image: ImageData): void {
    this.images.set(i, image);
    this.listeners.get(i)?.forEach((listener) => listener());
  }
}

/** Small pictures of a list of stacks, made anew when they change and nothing is held; shown by `SmallPicture`. `key` says when they have changed. */
export function useSmalls(key: unknown, stackAt: (i: number) => Wanted | undefined): Smalls {
  const [smalls] = useState(() => new Smalls());
  const ready = usePreview(({ state }) => state === 'ready');
  const held = useHeld(({ id }) => id !== undefined);
  useEffect(() => {
    if (!ready || held) return;
    smalls.begin(stackAt);
    return () => smalls.end();
    // The stacks follow from the key; listing the function would make them anew at every render.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [smalls, key, ready, held]);
  return smalls;
}

/** Small pictures of one stack or two, which are always in sight. As above; none while there are no stacks. */
export function useSmallPictures(key: unknown, stacks: () => readonly Wanted[]): readonly (ImageData | undefined)[] {
  const smalls = useSmalls(key, (i) => stacks()[i]);
  const [, heard] = useState(0);
  useEffect(() => {
    const deaf = [0, 1].map((i) => smalls.heed(i, () => heard((n) => n + 1)));
    [0, 1].forEach((i) => smalls.see(i, true));
    return () => deaf.forEach((stop) => stop());
  }, [smalls]);
  return [0, 1].map((i) => smalls.at(i));
}
