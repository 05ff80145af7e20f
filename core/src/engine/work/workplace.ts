import { PIXEL, type Kernels } from '../../pixels/kernels';
import { around, grown, type Layout, type Rect } from '../../pixels/picture';
import { halved } from '../../pixels/pyramid';
import { filterOf } from '../../expressions/filters';
import { inputsOf, PHOTO, type FusedStep, type Step, type Value } from '../../stack/program';
import { rowBytes, sizeOf, vectorsOf } from '../plan/pixel-format';
import { HALVING_LINES, halfRows, type Full } from './halving';
import { keepAlive } from './keep-alive';
import { CHUNK, type LocalBlur, type Plan, type Route } from '../plan/plan';
import type { TileSize } from '../plan/tiles';
import { Scanlines, type Leaf, type Ways } from './scanlines';
import { makingBytes, type OwnTables } from './tables';

const halvingBytes = (width: number): number => HALVING_LINES * (2 * width + 8) * PIXEL;

/** Images at hand, some of which are made when they are asked for first. */
class Leaves extends Map<Value, Leaf> {
  private readonly pending = new Map<Value, () => Leaf>();

  later(value: Value, make: () => Leaf): void {
    this.pending.set(value, make);
  }

  override get(value: Value): Leaf | undefined {
    const make = this.pending.get(value);
    if (make) {
      this.pending.delete(value);
      this.set(value, make());
    }
    return super.get(value);
  }
}

/** A part's own workplace for one pass: its scanline renderer, lines of scratch, and the blurs that are made tile by tile. */
export class Workplace {
  readonly lines: number;
  readonly machine: Scanlines;
  private readonly leaves = new Leaves();
  private readonly benches: { readonly blur: LocalBlur; readonly machine: Scanlines }[];
  private readonly tileScratch: number;

  constructor(
    private readonly plan: Plan,
    private readonly route: Route,
    private readonly kernels: Kernels,
    tables: OwnTables,
    tile: TileSize,
    wanted: Pick<Ways, 'pixelFormat' | 'kept'> = {},
  ) {
    const stride = plan.source.layout.width * PIXEL;
    for (const [value, at] of Object.entries(plan.held)) this.leaves.set(Number(value), { as: 'tile', pixelFormat: 'rgba', x: 0, y: 0, at, stride });
    for (const [value, low] of Object.entries(plan.lows)) this.leaves.set(Number(value), { as: 'low', ...low });
    for (const [value, bytes] of Object.entries(plan.pictures)) this.leaves.set(Number(value), { as: 'bytes', ...bytes });
    let top = tables.end;
    const take = (bytes: number): number => (top += bytes) - bytes;
    const parts = partsOf(route);
    this.lines = take(lineBytes(route, tile, plan.source.layout));
    const rooms = parts.map(({ steps, out }) => take(Scanlines.bytes(steps, out)));
    this.tileScratch = top;
    route.bakes.forEach((bake) => this.leaves.set(bake.to, tables.baked(bake, top)));
    const fusedAt = (step: FusedStep): number | undefined => tables.fusedAt(step, top);
    const [machine, ...machines] = parts.map(
      ({ steps, out }, i) => new Scanlines(plan, kernels, rooms[i] as number, steps, out, this.leaves, { ...(i === 0 && wanted), fusedAt }),
    );
    this.machine = machine as Scanlines;
    this.benches = route.locals.map((blur, i) => ({ blur, machine: machines[i] as Scanlines }));
  }

  /**
   * Where rows of a value are halved from: from the photo's own bytes, if these are opaque and 8 bits deep, and it is what is wanted, or what they become along
   * parabolas is.
   */
  full(value: Value = this.route.out, machine: Scanlines = this.machine): Full {
    const { at: bytesAt, layout } = this.plan.source;
    const leaf = this.leaves.get(value);
    // What filters of pixels read is never RGB rows.
    if (layout.depth === 16 || layout.channels === 4 || this.plan.numbers.includes(value)) return { machine, layout };
    if (value === PHOTO && !leaf) return { machine, layout, bytesAt };
    return leaf?.as === 'baked' && leaf.by === 'bends' ? { machine, layout, bytesAt, bendsAt: leaf.at } : { machine, layout };
  }

  /** Scratch that nothing else uses while no tile is made. */
  get spare(): number {
    return this.tileScratch;
  }

  /** Makes the local blurs that an area of the output needs; `asWanted` when they are read first, where nothing else needs the lines of scratch by then. */
  prepare(area: Rect, asWanted = false): void {
    const { layout } = this.plan.source;
    this.machine.begin(area.y + area.h);
    const areas = localAreas(this.route, area, layout);
    keepAlive(this.kernels, 'local areas', areas, area);
    const inputs = new Map(this.benches.map(({ blur }) => [blur, inputArea(blur, areas.get(blur.to) ?? area, layout)]));
    let top = this.tileScratch;
    // What filters read lies behind all that is made, one in the place of the other.
    const room = [...inputs].reduce((at, [blur, input]) => at + localBytes(blur, input), top);
    for (const { blur, machine } of this.benches) {
      const input = inputs.get(blur) as Rect;
      const at = top;
      this.leaves.later(blur.to, () => {
        // Those that it is made of come first: all use the same scratch.
        for (const value of [blur.from, ...blur.steps.flatMap(inputsOf)]) this.leaves.get(value);
        return this.blurred(blur, machine, input, at, room);
      });
      top += localBytes(blur, input);
    }
    if (!asWanted) for (const { blur } of this.benches) this.leaves.get(blur.to);
  }

  /** The image blurred in a rectangle, of which all is true but a rim of the filter's radius inside the picture. */
  private blurred(blur: LocalBlur, machine: Scanlines, r: Rect, at: number, room: number): Leaf {
    const { factor, origin, weights } = blur;
    machine.begin(r.y + r.h + OVERHANG);
    if (blur.filter) return this.filtered(blur, blur.filter, machine, r, at, room);
    if (factor === 1) {
      const { pixelFormat } = blur;
      const rows = this.fullRows(machine, r);
      keepAlive(this.kernels, 'full', rows, r);
      this.filter(rows, r.w, r.h, blur, r, at);
      return { as: 'tile', pixelFormat, x: r.x, y: r.y, at, stride: rowBytes(pixelFormat, r.w) };
    }
    const [width, height] = [halved(r.w), halved(r.h)];
    const halves = halfRows(this.full(blur.from, machine), this.kernels, this.lines, r.x / 2, width, 'firm');
    const rows: Rows = { rgbRows: halves.rgbRows, put: (j, to) => halves.put(r.y / 2 + j, to) };
    keepAlive(this.kernels, 'half', halves, rows, r);
    this.filter(rows, width, height, blur, r, at);
    return { as: 'half', pixelFormat: blur.pixelFormat, x: r.x, y: r.y, at, width, height, origin, weights };
  }

  /** The same by a filter of pixels: what it reads is made whole first, at `input`, with the filter's own scratch behind it. */
  private filtered(blur: LocalBlur, name: string, machine: Scanlines, r: Rect, at: number, input: number): Leaf {
    const { factor, origin, weights, taps, radius } = blur;
    const k = this.kernels;
    const half = factor === 2;
    const [width, height] = half ? [halved(r.w), halved(r.h)] : [r.w, r.h];
    const from = half ? halfRows({ machine, layout: this.plan.source.layout }, k, this.lines, r.x / 2, width, 'firm') : undefined;
    const rows: Rows = from ? { rgbRows: from.rgbRows, put: (j, to) => from.put(r.y / 2 + j, to) } : this.fullRows(machine, r);
    keepAlive(k, 'filtered', rows, from, r);
    for (let y = 0; y < height; y++) rows.put(y, input + y * width * PIXEL);
    const scratch = input + (width * height + 16) * PIXEL;
    const { layout } = this.plan.source;
    // Where the rectangle does not end at the picture's border, its rim cannot be told and is left out.
    const [left, top] = [r.x === 0 ? 0 : radius, r.y === 0 ? 0 : radius];
    const [right, bottom] = [r.x + r.w === layout.width ? width : width - radius, r.y + r.h === layout.height ? height : height - radius];
    filterOf(name).bind(k)(at, input, width, height, { left, top, cols: right - left, rows: bottom - top }, r.x, r.y, taps, scratch);
    if (half) return { as: 'half', pixelFormat: 'rgba', x: r.x, y: r.y, at, width, height, origin, weights };
    return { as: 'tile', pixelFormat: 'rgba', x: r.x, y: r.y, at, stride: width * PIXEL };
  }

  private fullRows(machine: Scanlines, r: Rect): Rows {
    return {
      rgbRows: machine.pixelFormat === 'rgb',
      put: (y, to) => {
        for (let x = 0; x < r.w; x += CHUNK) machine.run(r.x + x, r.y + y, Math.min(CHUNK, r.w - x), to + x * sizeOf(machine.pixelFormat));
      },
    };
  }

  /**
   * Filters rows of pixels, across each while it is in the nearest cache, then down some rows at a time. Opaque ones go as RGB rows. Where the rectangle
   * `r` does not end at the picture's border, the outermost rows cannot be told and are left out.
   */
  private filter(rows: Rows, width: number, height: number, { factor, radius, taps, pixelFormat }: LocalBlur, r: Rect, at: number): void {
    const k = this.kernels;
    const { layout } = this.plan.source;
    const vectors = vectorsOf(pixelFormat, width);
    const rowBytes = vectors * PIXEL;
    const line = this.lines + (factor === 1 ? 0 : halvingBytes(width));
    const row = line + (width + 2 * radius + 8) * PIXEL;
    const lasting = at + (width * height + 8) * PIXEL;
    const [from, to] = [r.y === 0 ? 0 : radius, r.y + r.h === layout.height ? height : height - radius];
    let [first, next] = [0, 0];
    for (let y = from; y < to; y += BLOCK) {
      const end = Math.min(to, y + BLOCK);
      const past = Math.max(first, y - radius);
      if (past > first) k.copy(lasting, lasting + (past - first) * rowBytes, (next - past) * vectors);
      first = past;
      for (; next < Math.min(height, end + radius); next++) {
        const across = lasting + (next - first) * rowBytes;
        rows.put(next, row);
        if (pixelFormat === 'rgba') k.firAcross(across, width, row, width, width, 0, width, 1, radius, taps, line);
        else {
          if (!rows.rgbRows) k.rgbRows(row, row, width);
          k.firRgbRows(across, row, width, radius, taps, line);
        }
      }
      k.firDown(at + y * rowBytes, vectors, lasting, vectors, next - first, y - first, end - y, vectors, radius, taps);
    }
  }
}

/** Rows of what is filtered, written where they are wanted. */
interface Rows {
  readonly rgbRows: boolean;
  put(y: number, to: number): void;
}

/** Rows that are filtered down at a time: with their neighbours they stay in the second cache. */
const BLOCK = 32;

/** Halving reads a little more than the area it makes. */
const OVERHANG = 6;

/** Even, so that halving falls on the same pixels whatever the tile; wide enough for filter, halving and spline. */
const rimOf = ({ factor, radius }: LocalBlur): number => (factor === 1 ? radius : 2 * radius + 4);

function inputArea(blur: LocalBlur, area: Rect, layout: { width: number; height: number }): Rect {
  const r = grown(area, rimOf(blur), layout);
  const x = r.x - (r.x % 2);
  const y = r.y - (r.y % 2);
  return { x, y, w: r.x + r.w - x, h: r.y + r.h - y };
}

/** For each local blur: the later ones that are made from it, and whether the route's own value is. */
function readersOf({ locals, steps, out }: Route): Map<LocalBlur, { readonly later: readonly LocalBlur[]; readonly last: boolean }> {
  const reads = (all: readonly Step[], value: Value): ReadonlySet<Value> => new Set([value, ...all.flatMap(inputsOf)]);
  const own = reads(steps, out);
  const each = locals.map((blur) => ({ blur, reads: reads(blur.steps, blur.from) }));
  return new Map(
    locals.map((blur, i) => {
      const later = each.slice(i + 1).flatMap((other) => (other.reads.has(blur.to) ? [other.blur] : []));
      return [blur, { later, last: own.has(blur.to) || later.length === 0 }];
    }),
  );
}

/** Where each local blur is needed, for an area of the route's output. */
function localAreas(route: Route, area: Rect, layout: { width: number; height: number }): Map<Value, Rect> {
  const areas = new Map<Value, Rect>();
  const readers = readersOf(route);
  for (const blur of [...route.locals].reverse()) {
    const { later = [], last = true } = readers.get(blur) ?? {};
    const wanted = later.map((other) => grown(inputArea(other, areas.get(other.to) ?? area, layout), OVERHANG, layout));
    areas.set(blur.to, [...(last ? [area] : []), ...wanted].reduce(around));
  }
  return areas;
}

/** Room for a blurred image, and for the rows that are being filtered down. */
function localBytes({ factor, radius, filter }: LocalBlur, { w, h }: Pick<Rect, 'w' | 'h'>): number {
  const [width, height] = factor === 1 ? [w, h] : [halved(w), halved(h)];
  if (filter) return (width * height + 16) * PIXEL;
  return (width * height + 8 + width * (BLOCK + 2 * radius + 1) + 64) * PIXEL;
}

/** Room for what a filter reads, and its own scratch. */
function filterBytes({ factor, filter }: LocalBlur, { w, h }: Pick<Rect, 'w' | 'h'>): number {
  const [width, height] = factor === 1 ? [w, h] : [halved(w), halved(h)];
  return filter ? (width * height + 16) * PIXEL + filterOf(filter).scratch(width, height) : 0;
}

/** Sizes of what local blurs read at most, for tiles of a size, the last one first. */
function inputSizes(route: Route, tile: TileSize): { blur: LocalBlur; w: number; h: number }[] {
  const readers = readersOf(route);
  const sizes = new Map<LocalBlur, { blur: LocalBlur; w: number; h: number }>();
  for (const blur of [...route.locals].reverse()) {
    const { later = [], last = true } = readers.get(blur) ?? {};
    const wanted = [...(last ? [{ w: tile.width, h: tile.height }] : []), ...later.flatMap((other) => sizes.get(other) ?? [])];
    const rim = 2 * (rimOf(blur) + OVERHANG) + 2;
    sizes.set(blur, { blur, w: Math.max(...wanted.map(({ w }) => w)) + rim, h: Math.max(...wanted.map(({ h }) => h)) + rim });
  }
  return [...sizes.values()];
}

/** Scratch lines that one part needs: those of a reduction, one of the picture, or those of a filter with what it is halved from. */
function lineBytes(route: Route, tile: TileSize, layout: { width: number }): number {
  const filters = inputSizes(route, tile).map(
    ({ blur, w }) => (blur.factor === 1 ? 0 : halvingBytes(halved(w))) + 3 * (w + 2 * blur.radius + 8) * PIXEL,
  );
  // Both sets of rows of a reduction: those that are halved to half of the tile's width, and those to a quarter.
  const halvings = halvingBytes(Math.ceil(tile.width / 2) + 2) + halvingBytes(Math.ceil(tile.width / 4)) + (Math.ceil(tile.width / 4) + 4) * PIXEL;
  // An image of a quarter of the size that is made of another one needs three lines of its own, and what its filter reads beyond them.
  return Math.max(halvings, (Math.max(layout.width, 64) + 128) * PIXEL, ...filters);
}

/** What a route's machines do: the one that leads to its value, then those before its local blurs. */
const partsOf = ({ steps, out, locals }: Route): { steps: readonly Step[]; out: Value }[] => [
  { steps, out },
  ...locals.map((blur) => ({ steps: blur.steps, out: blur.from })),
];

/** Scratch that one part needs for a route over tiles of a size, besides its tables. `reducing` is what a filter needs when all tiles are made. */
export function scratchBytes(route: Route, tile: TileSize, layout: Layout, reducing = 0): number {
  const machines = partsOf(route).reduce((sum, { steps, out }) => sum + Scanlines.bytes(steps, out), 0);
  const sizes = inputSizes(route, tile);
  const filters = Math.max(0, ...sizes.map(({ blur, w, h }) => filterBytes(blur, { w, h })));
  const locals = sizes.reduce((sum, { blur, w, h }) => sum + localBytes(blur, { w, h }), filters);
  return machines + lineBytes(route, tile, layout) + Math.max(locals, makingBytes(route), reducing);
}
