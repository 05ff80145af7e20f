/** Work that several may wait for at once: it is done once for all of them, and given up when nobody waits any more. */
export class Shared<T> {
  private readonly underWay = new Map<string, { readonly work: Promise<T>; readonly stop: AbortController; waiting: number }>();

  /** What comes of the work of this name: that which is under way, or `begin`. @param signal tells that this one waits no longer. */
  async ask(name: string, signal: AbortSignal | undefined, begin: (signal: AbortSignal) => Promise<T>): Promise<T> {
    const there = this.underWay.get(name);
    const one = there && !there.stop.signal.aborted ? there : this.begun(name, begin);
    one.waiting++;
    const leave = (): void => {
      if (--one.waiting === 0) one.stop.abort();
    };
    signal?.addEventListener('abort', leave, { once: true });
    try {
      return await one.work;
    } finally {
      signal?.removeEventListener('abort', leave);
    }
  }

  private begun(name: string, begin: (signal: AbortSignal) => Promise<T>): { work: Promise<T>; stop: AbortController; waiting: number } {
    const stop = new AbortController();
    const one = {
      stop,
      waiting: 0,
      work: begin(stop.signal).finally(() => {
        if (this.underWay.get(name) === one) this.underWay.delete(name);
      }),
    };
    this.underWay.set(name, one);
    return one;
  }
}
