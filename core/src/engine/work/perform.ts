import { PIXEL, type Kernels } from '../../pixels/kernels';
import type { Rect } from '../../pixels/picture';
import type { Pool } from './pool';
import { rowBytes, sizeOf, vectorsOf } from '../plan/pixel-format';
import { QuarterRows } from './halving';
import { keepAlive } from './keep-alive';
import { opOf } from '../../expressions/ops';
import { areaOf, bytesOf, CHUNK, QUARTER_RIM, tileOf, type Plan, type Borders, type ReducePass, type Refit, type StorePass } from '../plan/plan';
import { OwnTables } from './tables';
import { tileCount, tiles } from '../plan/tiles';
import { storing, wantsPixels } from './storing';
import { warp } from './warp';
import { Workplace } from './workplace';
import { filterOf } from '../../expressions/filters';

/** Told of each band of rows that is finished, in any order, counted from 0 at the top. */
export type BandDone = (band: number) => void;

/** Pixels past a line that loops may write. */
const LINE_MARGIN = 16;

/**
 * Carries out a plan, as one worker of a pool; all workers call it with the same plan. Returns false if the work was stopped.
 */
export function perform(plan: Plan, kernels: Kernels, pool: Pool, bandDone: BandDone = () => undefined): boolean {
  const tables = new OwnTables(plan, kernels, pool.part);
  try {
    for (const pass of plan.passes) {
      if (pass.do === 'reduce') reduce(plan, pass, kernels, pool, tables);
      else if (pass.do === 'warp') warp(plan, pass, kernels, pool);
      else store(plan, pass, kernels, pool, tables, bandDone);
      pool.barrier();
    }
  } catch (error) {
    pool.abort();
    throw error;
  }
  return !pool.stopped;
}

function reduce(plan: Plan, pass: ReducePass, kernels: Kernels, pool: Pool, tables: OwnTables): void {
  const { quarter, levels, small, spare, radius, taps, pixelFormat } = pass;
  const place = new Workplace(plan, pass.route, kernels, tables, tileOf(pass));
  keepAlive(kernels, 'reduce', plan, pass, place, pool);
  if (pass.refit) return refit(pass, pass.refit, kernels, pool, place);
  if (!pass.made) {
    quarterOf(plan, pass, place, kernels, pool);
    pool.barrier();
  }
  const share = (n: number): [number, number] => [Math.floor((n * pool.part) / pool.parts), Math.floor((n * (pool.part + 1)) / pool.parts)];
  const halve = pixelFormat === 'rgb' ? kernels.halveRgbRowsImage : kernels.halve;
  let last = quarter;
  for (const level of levels) {
    const [a, b] = share(level.height);
    halve(level.at, last.at, last.width, last.height, level.width, a, b, place.lines);
    pool.barrier();
    last = level;
  }
  const { width, height } = last;
  const [a, b] = share(height);
  const stride = rowBytes(pixelFormat, width);
  if (pass.filter) {
    if (b > a)
      filterOf(pass.filter).bind(kernels)(spare, last.at, width, height, { left: 0, top: a, cols: width, rows: b - a }, 0, 0, taps, place.spare);
    pool.barrier();
    if (b > a) kernels.copy(small.at + a * stride, spare + a * stride, vectorsOf(pixelFormat, width) * (b - a));
    return;
  }
  if (pixelFormat === 'rgb')
    for (let y = a; y < b; y++) kernels.firRgbRows(spare + y * stride, last.at + y * stride, width, radius, taps, place.lines);
  else kernels.firAcross(spare + a * stride, width, last.at + a * stride, width, width, 0, width, b - a, radius, taps, place.lines);
  pool.barrier();
  const vectors = vectorsOf(pixelFormat, width);
  kernels.firDown(small.at + a * stride, vectors, spare, vectors, height, a, b - a, vectors, radius, taps);
}

/** Makes a blurred image out of another one of the same size: as that is when it is grown back, through a loop, and blurred, with what lies at the picture's border beyond it. */
function refit(pass: ReducePass, { at: from, spline, op, numbers, inner }: Refit, kernels: Kernels, pool: Pool, place: Workplace): void {
  const { small, spare, radius, taps, pixelFormat } = pass;
  const { width, height } = small;
  const stride = rowBytes(pixelFormat, width);
  const vectors = vectorsOf(pixelFormat, width);
  const [a, b] = [Math.floor((height * pool.part) / pool.parts), Math.floor((height * (pool.part + 1)) / pool.parts)];
  if (pixelFormat === 'rgb') for (let y = a; y < b; y++) kernels.firRgbRows(spare + y * stride, from + y * stride, width, 1, spline, place.lines);
  else if (b > a) kernels.firAcross(spare + a * stride, width, from + a * stride, width, width, 0, width, b - a, 1, spline, place.lines);
  pool.barrier();
  kernels.firDown(small.at + a * stride, vectors, spare, vectors, height, a, b - a, vectors, 1, spline);
  // The others may still read rows of it beside theirs.
  pool.barrier();
  // Loops write a little further than they are asked to: each row is made apart.
  const line = place.lines + (width + 2 * radius + LINE_MARGIN) * PIXEL;
  const made = line + (width + LINE_MARGIN) * PIXEL;
  const run = opOf(op).bind(kernels, numbers, 0, 0);
  /** Makes the first and the last of some pixels or rows what the picture's border is, which lies between two of them. */
  const reachBorder = (at: number, step: number, n: number, { first, last }: Borders): void => {
    for (const { from: index, to, share } of [first, last]) {
      kernels.fade(made, at + index * step, at + to * step, n, share);
      kernels.copy(at + index * step, made, n);
    }
  };
  for (let y = a; y < b; y++) {
    const row = small.at + y * stride;
    const pixels = pixelFormat === 'rgb' ? made : row;
    if (pixelFormat === 'rgb') kernels.opaque(made, row, width);
    run(line, pixels, 0, width, 0, y);
    reachBorder(line, PIXEL, 1, inner.across);
    kernels.firAcross(made, width, line + inner.x * PIXEL, width, inner.w, -inner.x, width, 1, radius, taps, place.lines);
    if (pixelFormat === 'rgb') kernels.rgbRows(spare + y * stride, made, width);
    else kernels.copy(spare + y * stride, made, vectors);
  }
  pool.barrier();
  if (pool.part === 0) reachBorder(spare, stride, vectors, inner.down);
  pool.barrier();
  kernels.firDown(small.at + a * stride, vectors, spare + inner.y * stride, vectors, inner.h, a - inner.y, b - a, vectors, radius, taps);
}

/** Halves twice in tiles, in passing: no full-size image is held. */
function quarterOf(plan: Plan, { quarter, halving, pixelFormat, tile: most }: ReducePass, place: Workplace, kernels: Kernels, pool: Pool): void {
  const { layout } = plan.source;
  const [stride, size] = [rowBytes(pixelFormat, quarter.width), sizeOf(pixelFormat)];
  for (const tile of tiles(pool, { x: 0, y: 0, w: quarter.width, h: quarter.height }, most)) {
    place.prepare(inside({ x: 4 * tile.x - 18, y: 4 * tile.y - 18, w: 4 * tile.w + QUARTER_RIM, h: 4 * tile.h + QUARTER_RIM }, layout));
    const rows = new QuarterRows(place.full(), kernels, place.lines, tile.x, tile.w, halving, pixelFormat);
    keepAlive(kernels, 'quarters', rows);
    for (let y = 0; y < tile.h; y++) rows.put(tile.y + y, quarter.at + (tile.y + y) * stride + tile.x * size);
  }
}

function store(plan: Plan, pass: StorePass, k: Kernels, pool: Pool, tables: OwnTables, bandDone: BandDone): void {
  const area = areaOf(pass, plan.source.layout);
  const { histogram, format } = pass;
  // Tones are counted of pixels.
  const pixelFormat = histogram || wantsPixels(format) ? ({ pixelFormat: 'rgba' } as const) : {};
  const place = new Workplace(plan, pass.route, k, tables, pass.tile, {
    ...pixelFormat,
    ...(histogram && { kept: [histogram.own, histogram.beneath] }),
  });
  const { machine, lines } = place;
  keepAlive(k, 'store', plan, pass, place, pool);
  const put = storing(k, format, machine.pixelFormat, lines);
  const bytes = bytesOf(format);
  const bins = histogram?.at[pool.part] ?? 0;
  for (const tile of tiles(pool, area, pass.tile)) {
    place.prepare(tile, true);
    for (let y = tile.y; y < tile.y + tile.h; y++)
      for (let x = tile.x; x < tile.x + tile.w; x += CHUNK) {
        const n = Math.min(CHUNK, tile.x + tile.w - x);
        put(pass.at + ((y - area.y) * area.w + x - area.x) * bytes, machine.made(x, y, n), n, x, y, plan.noise);
        if (!histogram) continue;
        const [red, green, blue] = histogram.weights;
        k.histogram(bins, machine.addressOf(histogram.own), n, red, green, blue);
        k.histogram(bins + 1024, machine.addressOf(histogram.beneath), n, red, green, blue);
      }
    // Images that are written down on the way have no bands: theirs would be counted with those of the picture.
    const band = pass.band ? Math.floor((tile.y - area.y) / pass.band) : Infinity;
    if (pool.finished(band) === tilesInBand(pass, band, area)) bandDone(band);
  }
}

function tilesInBand({ tile, band = 0 }: StorePass, i: number, area: Rect): number {
  if (band === 0) return -1;
  const rows = Math.min(band, area.h - i * band);
  return tileCount({ ...area, h: rows }, tile);
}

/** A rectangle that may hang over the border, as the pixels of the picture that stand for it. */
function inside({ x, y, w, h }: Rect, { width, height }: { width: number; height: number }): Rect {
  const hold = (v: number, n: number): number => Math.min(n - 1, Math.max(0, v));
  const [left, top] = [hold(x, width), hold(y, height)];
  return { x: left, y: top, w: hold(x + w - 1, width) - left + 1, h: hold(y + h - 1, height) - top + 1 };
}
