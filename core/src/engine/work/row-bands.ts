import type { Kernels } from '../../pixels/kernels';
import { rowBytes, vectorsOf, type PixelFormat } from '../plan/pixel-format';
import { CHUNK, type Low } from '../plan/plan';

/** Rows that are grown at a time, at most; and those of the small image that they lie between. */
const ROWS = 16;
const SMALL_ROWS = 4;
/** Chunks side by side whose bands are kept: rows are asked for from left to right, then the next one. */
const SIDES = 2;
const LINE = (CHUNK + 4) * 16;

interface Band {
  x: number;
  n: number;
  /** First row, and how many there are. */
  top: number;
  rows: number;
  readonly at: number;
  /** Which rows of the small image are grown across, in turns of four. */
  readonly small: number[];
}

/**
 * A small image grown back, some rows at a time: its own rows across, and down between four of these. Rows are asked for from top to bottom, up to a row
 * that is told beforehand.
 */
export class Bands {
  private readonly bands: readonly Band[];
  private readonly grow: Kernels['growAcross'];

  /**
   * @param at first of `Bands.bytes` bytes that are its own.
   * @param form of what it grows into.
   */
  constructor(
    private readonly kernels: Kernels,
    private readonly low: Low,
    at: number,
    private readonly pixelFormat: PixelFormat,
  ) {
    const { growAcross, growOpaqueAcross, growRgbRowsAcross } = kernels;
    this.grow = low.pixelFormat === 'rgba' ? growAcross : pixelFormat === 'rgba' ? growOpaqueAcross : growRgbRowsAcross;
    const each = (SMALL_ROWS + ROWS) * LINE;
    this.bands = Array.from({ length: SIDES }, (_, i) => ({ x: NaN, n: 0, top: 0, rows: 0, at: at + i * each, small: [] }));
  }

  static readonly bytes = SIDES * (SMALL_ROWS + ROWS) * LINE;

  /** Where n pixels from (x, y) lie; rows below `until` will not be asked for. */
  row(x: number, y: number, n: number, until: number): number {
    const band = this.bands[Math.floor(x / CHUNK) % SIDES] as Band;
    if (band.x !== x || band.n !== n) Object.assign(band, { x, n, rows: 0 }).small.fill(NaN);
    if (y < band.top || y >= band.top + band.rows) this.make(band, y, until);
    return band.at + (SMALL_ROWS + y - band.top) * LINE;
  }

  private make(band: Band, y: number, until: number): void {
    const { factor, origin } = this.low;
    const v = y + origin;
    const first = Math.floor(v / factor) - 1;
    const phase = v % factor;
    // From the same row on wherever a tile begins, and all of them where they mirror each other: the same sums give the same pixels.
    const run = Math.min(ROWS, factor);
    const before = phase % run;
    band.top = y - before;
    band.rows = run < ROWS ? run : Math.min(run, Math.max(y + 1, until) - band.top);
    const [a, b, c, e] = [this.across(band, first), this.across(band, first + 1), this.across(band, first + 2), this.across(band, first + 3)];
    this.kernels.growDown(band.at + SMALL_ROWS * LINE, LINE, a, b, c, e, factor, phase - before, band.rows, vectorsOf(this.pixelFormat, band.n));
  }

  /** Where a row of the small image lies, grown across. */
  private across(band: Band, row: number): number {
    const { factor, origin, at, width, phases } = this.low;
    const place = row % SMALL_ROWS;
    const to = band.at + place * LINE;
    if (band.small[place] === row) return to;
    band.small[place] = row;
    this.grow(to, at + row * rowBytes(this.low.pixelFormat, width), factor, origin, phases, band.x, band.n);
    return to;
  }
}
