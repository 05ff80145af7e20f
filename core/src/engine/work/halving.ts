import { PIXEL, type Kernels } from '../../pixels/kernels';
import type { Layout } from '../../pixels/picture';
import { sizeOf, type PixelFormat } from '../plan/pixel-format';
import type { Scanlines } from './scanlines';
import { CHUNK } from '../plan/plan';

/** Where full-size rows come from: made by a machine, or the bytes of an opaque 8-bit photo as they lie in memory. */
export interface Full {
  readonly machine: Scanlines;
  readonly layout: Layout;
  /** Address of the photo, where its bytes are what is halved, and of parabolas, where what they become along these is. */
  readonly bytesAt?: number;
  readonly bendsAt?: number;
}

/** Rows of a half-size image, each written where it is wanted, in the format of what they are made from. */
interface HalfRows {
  readonly rgbRows: boolean;
  put(j: number, to: number): void;
}

/**
 * Which filter halves: (1 5 10 10 5 1)/32, or (1 3 3 1)/8 where more halvings follow and what they let through is far below the frequencies that the
 * shorter filter folds back badly. Both have their middle at the same place: the shorter one leaves out the first and the last tap.
 */
export type Halving = 'firm' | 'soft';
/** Rows that the longer filter reads. */
const TAPS = 6;
/** Lines of 2n + 8 pixels that are scratch of half-size rows of n. */
export const HALVING_LINES = TAPS + 1;

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

const firstOf = (halving: Halving, j: number): number => 2 * j - (halving === 'firm' ? TAPS : TAPS - 1);
const tapsOf = (halving: Halving): number => (halving === 'firm' ? TAPS : TAPS - 2);

/** Row j at half size of rows of a format. */
function halveFrom(kernels: Kernels, halving: Halving, rgbRows: boolean, rows: LastRows, j: number, to: number, n: number, spare: number): void {
  const k = firstOf(halving, j);
  const [a, b, c, e] = [rows.row(k), rows.row(k + 1), rows.row(k + 2), rows.row(k + 3)];
  if (halving === 'soft') return (rgbRows ? kernels.softenRgbRows : kernels.softenRow)(to, a, b, c, e, n, spare);
  (rgbRows ? kernels.halveRgbRows : kernels.halveRow)(to, a, b, c, e, rows.row(k + 4), rows.row(k + 5), n, spare);
}

/**
 * Rows of the half-size image, n pixels from column i0; no full-size image is ever held. Taps are 2j-6 .. 2j-1, or those inside; beyond the border the
 * picture's edge goes on. Rows are asked for from top to bottom.
 * @param lines scratch for seven lines of 2n + 8 pixels.
 */
export const halfRows = (full: Full, kernels: Kernels, lines: number, i0: number, n: number, halving: Halving): HalfRows =>
  full.bytesAt === undefined || (full.bendsAt !== undefined && halving === 'firm')
    ? new MadeHalfRows(full, kernels, lines, i0, n, halving)
    : new ByteHalfRows(full.bytesAt, full.bendsAt, full.layout, kernels, lines, i0, n, halving);

interface Columns {
  readonly x0: number;
  readonly from: number;
  readonly to: number;
  readonly left: number;
  readonly right: number;
  readonly length: number;
}

/** The columns that are read for n half-size ones from i0: those inside the picture, and how often its edge pixels go on. */
function columns(width: number, i0: number, n: number, halving: Halving): Columns {
  const x0 = firstOf(halving, i0);
  const length = 2 * (n - 1) + tapsOf(halving);
  const from = Math.min(Math.max(0, x0), width - 1);
  const to = Math.max(Math.min(width, x0 + length), from + 1);
  const left = Math.min(Math.max(0, from - x0), length - 1);
  return { x0, from, to, left, right: Math.max(0, length - left - (to - from)), length };
}

class MadeHalfRows implements HalfRows {
  readonly rgbRows: boolean;
  private readonly rows: LastRows;
  private readonly spare: number;

  constructor(
    { machine, layout }: Full,
    private readonly kernels: Kernels,
    lines: number,
    i0: number,
    private readonly n: number,
    private readonly halving: Halving,
  ) {
    const { width, height } = layout;
    const { x0, from, to, left, right, length } = columns(width, i0, n, halving);
    this.rgbRows = machine.pixelFormat === 'rgb';
    const size = sizeOf(machine.pixelFormat);
    const extend = this.rgbRows ? kernels.extendRgbRows : kernels.extend;
    const lineBytes = (length + 4) * PIXEL;
    this.spare = lines + TAPS * lineBytes;
    this.rows = new LastRows(lines, lineBytes, (y, line) => {
      const inside = Math.min(height - 1, Math.max(0, y));
      if (x0 >= width) {
        machine.run(width - 1, inside, 1, line);
        extend(line, 1, 0, length - 1);
        return;
      }
      for (let x = from; x < to; x += CHUNK) machine.run(x, inside, Math.min(CHUNK, to - x), line + (left + x - from) * size);
      extend(line + left * size, to - from, left, right);
    });
  }

  put(j: number, to: number): void {
    const { kernels, halving, rgbRows, rows, n, spare } = this;
    halveFrom(kernels, halving, rgbRows, rows, j, to, n, spare);
  }
}

/** The same, where nothing is done to the photo's bytes before they are halved, or all that is done is going along parabolas. */
class ByteHalfRows implements HalfRows {
  readonly rgbRows = true;
  private readonly columns: Columns;

  constructor(
    private readonly at: number,
    private readonly bends: number | undefined,
    private readonly layout: Layout,
    private readonly kernels: Kernels,
    private readonly line: number,
    i0: number,
    private readonly n: number,
    private readonly halving: Halving,
  ) {
    this.columns = columns(layout.width, i0, n, halving);
  }

  put(j: number, d: number): void {
    const { from, to, left, right } = this.columns;
    const { n, line, kernels, halving, bends } = this;
    const k = firstOf(halving, j);
    const [a, b, c, e] = [this.row(k), this.row(k + 1), this.row(k + 2), this.row(k + 3)];
    if (bends !== undefined) kernels.softenBends(d, a, b, c, e, to - from, left, right, n, line, bends);
    else if (halving === 'soft') kernels.softenBytes(d, a, b, c, e, to - from, left, right, n, line);
    else kernels.halveBytes(d, a, b, c, e, this.row(k + 4), this.row(k + 5), to - from, left, right, n, line);
  }

  private row(y: number): number {
    const { width, height } = this.layout;
    return this.at + (Math.min(height - 1, Math.max(0, y)) * width + this.columns.from) * 3;
  }
}

/** Rows of the quarter-size image, n pixels from column i0, halved twice in passing: softly first. They are in a format that is told. */
export class QuarterRows {
  private readonly halves: LastRows;
  private readonly rgbRows: boolean;
  private readonly spare: number;
  /** Scratch for a row, where it is made in another format than it is wanted in. */
  private readonly pixels: number | undefined;

  /** @param lines scratch for a line of n + 4 pixels, seven lines of 4n + 16 and seven of 2n + 8. */
  constructor(
    full: Full,
    private readonly kernels: Kernels,
    lines: number,
    i0: number,
    private readonly n: number,
    private readonly halving: Halving,
    pixelFormat: PixelFormat,
  ) {
    const halfLength = 2 * (n - 1) + tapsOf(halving);
    const halfBytes = (halfLength + 4) * PIXEL;
    const first = lines + (n + 4) * PIXEL;
    const half = halfRows(full, kernels, first + HALVING_LINES * halfBytes, firstOf(halving, i0), halfLength, 'soft');
    this.rgbRows = half.rgbRows;
    this.pixels = pixelFormat === 'rgb' && !half.rgbRows ? lines : undefined;
    this.spare = first + TAPS * halfBytes;
    this.halves = new LastRows(first, halfBytes, (j, line) => half.put(j, line));
  }

  put(k: number, to: number): void {
    const { kernels, halving, halves, n, spare, rgbRows, pixels } = this;
    halveFrom(kernels, halving, rgbRows, halves, k, pixels ?? to, n, spare);
    if (pixels !== undefined) kernels.rgbRows(to, pixels, n);
  }
}
