import { PIXEL, type Kernels } from '../pixels/kernels';
import type { RowMachine } from './rows';
import { CHUNK } from './plan';

interface Size {
  readonly width: number;
  readonly height: number;
}

/** Rows that a filter of six taps reads. */
const TAPS = 6;

/** The last six rows of something made row by row, each in its own line of scratch. */
class LastRows {
  private readonly holds = new Array<number>(TAPS).fill(NaN);

  constructor(
    private readonly at: number,
    private readonly lineBytes: number,
    private readonly make: (y: number, to: number) => void,
  ) {}

  row(y: number): number {
    const slot = ((y % TAPS) + TAPS) % TAPS;
    const to = this.at + slot * this.lineBytes;
    if (this.holds[slot] !== y) {
      this.make(y, to);
      this.holds[slot] = y;
    }
    return to;
  }
}

function halveFrom(kernels: Kernels, rows: LastRows, j: number, to: number, n: number, spare: number): void {
  const k = 2 * j - TAPS;
  kernels.halveRow(to, rows.row(k), rows.row(k + 1), rows.row(k + 2), rows.row(k + 3), rows.row(k + 4), rows.row(k + 5), n, spare);
}

/**
 * Rows of the half-size image, n pixels from column i0, straight from a row machine: no full-size image is ever held. Taps are 2j-6 .. 2j-1;
 * beyond the border the picture's edge goes on. Rows are asked for from top to bottom.
 */
export class HalfRows {
  private readonly rows: LastRows;
  private readonly spare: number;

  /** @param lines scratch for seven lines of 2n + 8 pixels. */
  constructor(
    machine: RowMachine,
    private readonly kernels: Kernels,
    { width, height }: Size,
    lines: number,
    i0: number,
    private readonly n: number,
  ) {
    const x0 = 2 * i0 - TAPS;
    const length = 2 * n + 4;
    const lineBytes = (length + 4) * PIXEL;
    this.spare = lines + TAPS * lineBytes;
    const from = Math.min(Math.max(0, x0), width - 1);
    const to = Math.max(Math.min(width, x0 + length), from + 1);
    const left = Math.max(0, from - x0);
    const right = length - left - (to - from);
    const begin = Math.min(left, length - 1);
    this.rows = new LastRows(lines, lineBytes, (y, line) => {
      const inside = Math.min(height - 1, Math.max(0, y));
      if (x0 >= width) {
        machine.run(width - 1, inside, 1, line);
        kernels.extend(line, 1, 0, length - 1);
        return;
      }
      for (let x = from; x < to; x += CHUNK) machine.run(x, inside, Math.min(CHUNK, to - x), line + (begin + x - from) * PIXEL);
      kernels.extend(line + begin * PIXEL, to - from, left, right);
    });
  }

  put(j: number, to: number): void {
    halveFrom(this.kernels, this.rows, j, to, this.n, this.spare);
  }
}

/** Rows of the quarter-size image, n pixels from column i0, halved twice in passing. */
export class QuarterRows {
  private readonly halves: LastRows;
  private readonly spare: number;

  /** @param lines scratch for seven lines of 4n + 16 pixels and seven of 2n + 8. */
  constructor(
    machine: RowMachine,
    private readonly kernels: Kernels,
    size: Size,
    lines: number,
    i0: number,
    private readonly n: number,
  ) {
    const halfLength = 2 * n + 4;
    const halfBytes = (halfLength + 4) * PIXEL;
    const half = new HalfRows(machine, kernels, size, lines + (TAPS + 1) * halfBytes, 2 * i0 - TAPS, halfLength);
    this.spare = lines + TAPS * halfBytes;
    this.halves = new LastRows(lines, halfBytes, (j, line) => half.put(j, line));
  }

  put(k: number, to: number): void {
    halveFrom(this.kernels, this.halves, k, to, this.n, this.spare);
  }
}
