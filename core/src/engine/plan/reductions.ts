import type { Heap } from '../../pixels/heap';
import { grownBy, pyramidFor, pyramidOfSmall, pyramidSizes, type Pyramid } from '../../pixels/pyramid';
import type { Layout } from '../../pixels/picture';
import { PHOTO, type Step, type Value } from '../../stack/program';
import { filterOf } from '../../expressions/filters';
import { rowBytes, reducedFormat } from './pixel-format';
import {
  PLAIN_QUARTER_TILE,
  QUARTER_TILE,
  WIDE_QUARTER_TILE,
  type Borders,
  type Level,
  type Low,
  type ReducePass,
  type Refit,
  type Route,
} from './plan';
import { evenly, fitting } from './tiles';

export type BlurStep = Extract<Step, { do: 'blur' }>;

/** From this factor on, a blurred image is made once for the whole picture; below it, tile by tile. */
const GLOBAL_FACTOR = 4;
/** Kernels may write a few pixels past an image. */
const LEVEL_MARGIN = 256;

interface Blurred extends Low {
  readonly bytes: number;
  readonly way: string;
}

/** Returns a key for how a blur is made, independent of its input. */
const wayOf = ({ sigmaPx, by }: BlurStep): string => (by ? `${by.filter} ${by.numbers.join(' ')}` : String(sigmaPx));

function pyramidOf({ sigmaPx, by }: BlurStep): Pyramid {
  if (!by) return pyramidFor(sigmaPx);
  const filter = filterOf(by.filter);
  const factor = filter.factor(by.numbers);
  return { factor, taps: filter.table(by.numbers, factor), radius: filter.reach(by.numbers, factor), ...grownBy(factor) };
}

/** What a pyramid is made with, and where it lies in memory. */
interface Placed extends Pyramid {
  readonly tapsAt: number;
  readonly weightsAt: number;
}

/** A route on which nothing is made. */
const NOWHERE: Route = { bakes: [], locals: [], steps: [], out: PHOTO };

/** Weights by which small pixels are read where they lie when an image is grown back by a cubic B-spline. */
const SPLINE = 'spline';
const SPLINE_TAPS = Float32Array.of(4 / 6, 1 / 6);

const quarterName = (from: Value, halving: 'soft' | 'firm'): string => `${from} ${halving}`;

/** Holds blurred images of the whole picture at reduced size: plans how each is made, and knows which are still valid from one plan to the next. */
export class Reductions {
  private readonly blurred = new Map<Value, Blurred>();
  private readonly pyramids = new Map<string, Placed>();
  /** What blurred images look like at a quarter of the size before they are blurred: where only a radius changes, all that comes before holds. */
  private readonly quarters = new Map<string, Level>();
  /** Room for the images on the way to a blurred one. */
  private bench: number | undefined;

  /** @param keepBytes how much memory images may hold that the latest plan does not use; 0 if nothing is to be kept of them. */
  constructor(
    private readonly heap: Heap,
    private readonly layout: Layout,
    private readonly keepBytes: number,
  ) {}

  /** Prepares for a plan with these blurs. Passes run one after another, so the memory for the largest serves all. */
  begin(blurs: readonly BlurStep[]): void {
    const wanting = blurs.filter((blur) => !this.blurred.has(blur.to) && this.isGlobal(blur));
    const bytes = wanting.map((blur) => this.levels(blur).reduce((sum, level) => sum + level.bytes, 0));
    this.bench = bytes.length > 0 ? this.heap.acquire(Math.max(...bytes)) : undefined;
  }

  /** Whether a blur is made for the whole picture. */
  isGlobal(blur: BlurStep): boolean {
    return this.pyramid(blur).factor >= GLOBAL_FACTOR;
  }

  /** Returns the values whose blurred images are already in memory. */
  get known(): readonly Value[] {
    return [...this.blurred.keys()];
  }

  lows(values: Iterable<Value>): Record<Value, Low> {
    return Object.fromEntries([...values].map((value) => [value, this.blurred.get(value) as Blurred]));
  }

  /**
   * How a blurred image is made.
   * @param routeTo the way to what is blurred, asked for unless that is at hand at a quarter of the size.
   * @param plain whether a route reads nothing but the photo.
   * @param hold whether that quarter is kept.
   */
  pass(blur: BlurStep, routeTo: () => Route, plain: (route: Route) => boolean, hold: boolean): ReducePass {
    const { from, to } = blur;
    const { factor, radius, tapsAt, weightsAt, origin } = this.pyramid(blur);
    const pixelFormat = reducedFormat(this.layout, blur);
    const sizes = this.levels(blur);
    const [first, last] = [sizes[0], sizes.at(-1)];
    if (!first || !last) throw new Error('a blurred image needs a size');
    let spare = this.bench ?? 0;
    const small = { at: this.heap.acquire(last.bytes), width: last.width, height: last.height };
    const rest = sizes.slice(1, -1).map(({ width, height, bytes }): Level => ({ at: (spare += bytes) - bytes, width, height }));
    const halving = sizes.length > 1 ? 'soft' : 'firm';
    const name = quarterName(from, halving);
    const known = this.quarters.get(name);
    const kept = hold && this.keepBytes > 0;
    const quarterAt = (): number => (kept ? this.heap.acquire(first.bytes) : sizes.length === 1 ? small.at : (spare += first.bytes) - first.bytes);
    const quarter = known ?? { at: quarterAt(), width: first.width, height: first.height };
    if (kept) this.quarters.set(name, quarter);
    this.blurred.set(to, { ...small, pixelFormat, factor, origin, phases: weightsAt + 16 * factor, bytes: last.bytes, way: wayOf(blur) });
    const route = known ? NOWHERE : routeTo();
    return {
      do: 'reduce',
      to,
      route,
      pixelFormat,
      quarter,
      halving,
      made: known !== undefined,
      tile: plain(route) ? fitting(quarter, WIDE_QUARTER_TILE, PLAIN_QUARTER_TILE) : evenly(quarter, QUARTER_TILE),
      levels: sizes.length > 1 ? [...rest, small] : [],
      small,
      radius,
      taps: tapsAt,
      ...(blur.by && { filter: blur.by.filter }),
      spare,
    };
  }

  /** Whether a blur of what a loop makes of another blur can be made out of that where it is small. */
  refits(blur: BlurStep, before: BlurStep): boolean {
    const formats = [blur, before].map((it) => reducedFormat(this.layout, it));
    // Loops get colours straight, which small images do not hold.
    const plain = this.layout.channels === 3 || blur.numbers === true;
    const alike = formats[0] === formats[1] && this.pyramid(blur).factor === this.pyramid(before).factor;
    return alike && plain && !blur.by && !before.by && this.isGlobal(blur);
  }

  /** How a blurred image is made of one that is blurred already, by a loop on its pixels in between. */
  refit(blur: BlurStep, before: BlurStep, { op, numbers }: Extract<Step, { do: 'point' }>): ReducePass {
    const way = `${wayOf(blur)} of a small one`;
    const { factor, radius, tapsAt, weightsAt, origin } = this.placed(way, () => pyramidOfSmall(blur.sigmaPx, this.pyramid(blur).factor));
    const pixelFormat = reducedFormat(this.layout, blur);
    const [last] = this.levels(blur).slice(-1);
    const from = this.blurred.get(before.to);
    if (!last || !from) throw new Error('what is blurred again has to be blurred before');
    const small = { at: this.heap.acquire(last.bytes), width: last.width, height: last.height };
    this.blurred.set(blur.to, { ...small, pixelFormat, factor, origin, phases: weightsAt + 16 * factor, bytes: last.bytes, way });
    return {
      do: 'reduce',
      to: blur.to,
      route: NOWHERE,
      pixelFormat,
      quarter: small,
      halving: 'firm',
      made: true,
      tile: QUARTER_TILE,
      levels: [],
      small,
      radius,
      taps: tapsAt,
      spare: this.bench ?? 0,
      refit: {
        at: from.at,
        spline: this.placed(SPLINE, () => ({ ...pyramidFor(0), taps: SPLINE_TAPS })).tapsAt,
        op,
        numbers,
        inner: this.within(factor, origin),
      },
    };
  }

  /** The pixels of an image that is so many times smaller which lie within the picture, and where its border is between two of them. */
  private within(factor: number, origin: number): Refit['inner'] {
    const at = (pixel: number): number => (pixel + origin + 0.5) / factor;
    const borders = (length: number): Borders => {
      const [first, last] = [Math.floor(at(0)), Math.ceil(at(length - 1))];
      return { first: { from: first, to: first + 1, share: at(0) - first }, last: { from: last, to: last - 1, share: last - at(length - 1) } };
    };
    const [across, down] = [borders(this.layout.width), borders(this.layout.height)];
    const { from: x } = across.first;
    const { from: y } = down.first;
    return { x, y, w: across.last.from - x + 1, h: down.last.from - y + 1, across, down };
  }

  /** Cleans up after a plan: releases what none of its blurs needs and what was not finished. Idle blurred images go first, the oldest before the others. */
  done(blurs: readonly BlurStep[], used: ReadonlySet<Value>, broken: readonly ReducePass[]): void {
    if (this.bench !== undefined) this.heap.release(this.bench);
    this.bench = undefined;
    broken.forEach(({ to }) => this.forget(to));
    let bytes = this.known.filter((value) => !used.has(value)).reduce((sum, value) => sum + (this.blurred.get(value) as Blurred).bytes, 0);
    for (const [value, image] of this.blurred) {
      if (used.has(value) || bytes <= this.keepBytes) continue;
      bytes -= image.bytes;
      this.forget(value);
    }
    const names = new Set(blurs.flatMap(({ from }) => [quarterName(from, 'soft'), quarterName(from, 'firm')]));
    const unmade = broken.filter(({ made }) => !made).map(({ quarter }) => quarter.at);
    for (const [name, { at }] of this.quarters) if (!names.has(name) || unmade.includes(at)) this.forgetQuarter(name, at);
    const ways = new Set([SPLINE, ...blurs.map(wayOf), ...[...this.blurred.values()].map(({ way }) => way)]);
    for (const [way, { tapsAt }] of this.pyramids) if (!ways.has(way)) this.forgetPyramid(way, tapsAt);
  }

  /** Releases everything. */
  end(): void {
    this.known.forEach((value) => this.forget(value));
    this.quarters.forEach(({ at }, name) => this.forgetQuarter(name, at));
    this.pyramids.forEach(({ tapsAt }, way) => this.forgetPyramid(way, tapsAt));
  }

  pyramid(blur: BlurStep): Placed {
    return this.placed(wayOf(blur), () => pyramidOf(blur));
  }

  private placed(way: string, made: () => Pyramid): Placed {
    const known = this.pyramids.get(way);
    if (known) return known;
    const pyramid = made();
    const tapsAt = this.heap.acquire(pyramid.taps.byteLength + pyramid.weights.byteLength);
    const weightsAt = tapsAt + pyramid.taps.byteLength;
    new Float32Array(this.heap.memory.buffer, tapsAt, pyramid.taps.length).set(pyramid.taps);
    new Float32Array(this.heap.memory.buffer, weightsAt, pyramid.weights.length).set(pyramid.weights);
    const placed = { ...pyramid, tapsAt, weightsAt };
    this.pyramids.set(way, placed);
    return placed;
  }

  /** Sizes from a quarter down. */
  private levels(blur: BlurStep): { width: number; height: number; bytes: number }[] {
    const sizes = pyramidSizes(this.layout.width, this.layout.height, this.pyramid(blur).factor).slice(2);
    const pixelFormat = reducedFormat(this.layout, blur);
    return sizes.map(({ width, height }) => ({ width, height, bytes: rowBytes(pixelFormat, width) * height + LEVEL_MARGIN }));
  }

  private forget(value: Value): void {
    this.heap.release((this.blurred.get(value) as Blurred).at);
    this.blurred.delete(value);
  }

  private forgetQuarter(name: string, at: number): void {
    this.heap.release(at);
    this.quarters.delete(name);
  }

  private forgetPyramid(way: string, at: number): void {
    this.heap.release(at);
    this.pyramids.delete(way);
  }
}
