/** Words of the control block that a pool shares: some of its own, and a count of finished tiles for each band of rows. */
const OWN_WORDS = 16;
const MOST_BANDS = 1024;
export const CONTROL_WORDS = OWN_WORDS + MOST_BANDS;
const WAITING = 0;
const ROUND = 1;
const TILE = 2;
const STOP = 3;
const BROKEN = 4;
const DONE = 5;

/**
 * The workers that make one picture together. All run the same plan; each takes the next tile that nobody has, and all meet
 * between passes. The control block lies in shared memory; a pool of one needs none of that and never waits.
 */
export class Pool {
  constructor(
    private readonly control: Int32Array,
    readonly part: number,
    readonly parts: number,
  ) {}

  /** The next tile of this pass, counted from 0. */
  next(): number {
    return Atomics.add(this.control, TILE, 1);
  }

  /** Waits for all workers; the tiles of the next pass are counted from 0 again. Throws if another worker broke off. */
  barrier(): void {
    const round = Atomics.load(this.control, ROUND);
    if (Atomics.add(this.control, WAITING, 1) === this.parts - 1) {
      Atomics.store(this.control, WAITING, 0);
      Atomics.store(this.control, TILE, 0);
      Atomics.add(this.control, ROUND, 1);
      Atomics.notify(this.control, ROUND);
      return;
    }
    while (Atomics.load(this.control, ROUND) === round) {
      if (Atomics.load(this.control, BROKEN)) throw new Error('another worker gave up');
      Atomics.wait(this.control, ROUND, round, 100);
    }
  }

  /** Tells the others that this worker cannot go on. */
  abort(): void {
    Atomics.store(this.control, BROKEN, 1);
  }

  /** Counts a finished tile of the last pass. Returns how many of its band are finished by now. */
  finished(band = 0): number {
    Atomics.add(this.control, DONE, 1);
    return band < MOST_BANDS ? Atomics.add(this.control, OWN_WORDS + band, 1) + 1 : 0;
  }

  get stopped(): boolean {
    return Atomics.load(this.control, STOP) !== 0;
  }
}

/** What the one who gives out the work does with the control block. */
export const control = {
  /** Before a new plan. The round is left alone: another worker may still be reading it on its way out of the last meeting. */
  reset: (words: Int32Array): void => {
    [TILE, STOP, BROKEN, DONE].forEach((word) => Atomics.store(words, word, 0));
    words.fill(0, OWN_WORDS);
  },
  stop: (words: Int32Array): void => void Atomics.store(words, STOP, 1),
  finishedTiles: (words: Int32Array): number => Atomics.load(words, DONE),
};
