/** After so long whole frames are tried again. */
const REST_MS = 60_000;

/**
 * How much a graphics processor is trusted with that was late. A machine that is busy for a moment is late once: at first it makes smaller frames, then none; after a
 * minute it is tried once more, and only where it is late again then it is left. Times are in ms, sizes in pixels.
 */
export class Trust {
  private most = Infinity;
  /** When it may make frames of any size again. */
  private until = 0;
  /** It was late, and has not made a whole frame since. */
  private wasLate = false;

  /** Whether it is to make a frame of some size now. */
  allows(pixels: number, now: number): boolean {
    return pixels <= this.most || now >= this.until;
  }

  /** It made a frame in time. */
  made(pixels: number, now: number): void {
    if (!this.wasLate || now < this.until || pixels <= this.most) return;
    this.most = Infinity;
    this.wasLate = false;
  }

  /** It was late with a frame. @returns whether it is tried again. */
  late(pixels: number, now: number): boolean {
    if (this.wasLate && now >= this.until) return false;
    this.most = this.wasLate ? 0 : Math.floor(pixels / 2);
    if (!this.wasLate) this.until = now + REST_MS;
    this.wasLate = true;
    return true;
  }
}
