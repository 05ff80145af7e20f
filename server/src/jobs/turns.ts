import { BexlenError } from '@bexlen/core';

interface Waiting {
  readonly go: () => void;
}

/**
 * Work of which one is done at a time, the newest wish first: what was scrolled past is made last. Each has a limit of time, and is left out when nobody waits for
 * it any more.
 */
export class Turns {
  private waiting: Waiting[] = [];
  private busy = false;
  private closed = false;
  private idle: () => void = () => undefined;

  constructor(private readonly mostMs: number) {}

  async take<T>(signal: AbortSignal | undefined, act: (signal: AbortSignal) => Promise<T>): Promise<T> {
    await this.turn(signal);
    try {
      if (this.closed) throw new BexlenError('cancelled', 'The server is being stopped.', 'Try again when it is back.');
      if (signal?.aborted) throw new BexlenError('cancelled', 'Nobody waits for this any more.', 'Ask for it again.');
      const late = AbortSignal.timeout(this.mostMs);
      return await act(signal ? AbortSignal.any([signal, late]) : late).catch((error: unknown) => {
        if (!late.aborted) throw error;
        throw new BexlenError(
          'too-slow',
          `This takes longer than ${this.mostMs / 1000} seconds to be shown small.`,
          'A file of it can still be made.',
        );
      });
    } finally {
      this.busy = false;
      this.next();
    }
  }

  /** Lets nobody begin any more. Resolves when what is under way has ended. */
  async close(): Promise<void> {
    this.closed = true;
    this.next();
    if (this.busy) await new Promise<void>((resolve) => (this.idle = resolve));
  }

  private async turn(signal: AbortSignal | undefined): Promise<void> {
    if (this.busy)
      await new Promise<void>((go) => {
        const one = { go };
        this.waiting.push(one);
        // It is let through at its turn and goes at once; one whose turn has come waits no more.
        const letThrough = (): void => {
          if (this.waiting.includes(one)) this.waiting = [one, ...this.waiting.filter((each) => each !== one)];
        };
        signal?.addEventListener('abort', letThrough, { once: true });
      });
    this.busy = true;
  }

  private next(): void {
    if (this.busy) return;
    const one = this.waiting.pop();
    if (one) {
      this.busy = true;
      one.go();
    } else this.idle();
  }
}
