import { PIXEL, TABLE_ENTRIES, type Kernels } from '../../pixels/kernels';
import type { Layout } from '../../pixels/picture';
import { PHOTO, type FusedStep, type Step, type Value } from '../../stack/program';
import { greysOf } from '../plan/baked';
import { CHUNK, type Bake, type Pass, type Plan, type Route } from '../plan/plan';
import { Scanlines, type Leaf } from './scanlines';

/** Photos of at least so many pixels are looked up two bytes at a time, where the same becomes of all channels. */
const MANY_PIXELS = 500e3;
/** Vectors of coefficients where tables turn out to be parabolas. */
const BENDS = 9;
const PAIRS_BYTES = 65536 * 8;
const looksUpPairs = ({ width, height, depth }: Layout): boolean => depth === 8 && width * height >= MANY_PIXELS;

/** Tables of what each value of red, green and blue becomes, and of what pairs do. */
const bakedBytes = (layout: Layout): number => greysOf(layout) * PIXEL + (looksUpPairs(layout) ? PAIRS_BYTES : 0);

/** Tables of a fused step, one for each channel; what they are made of: their entries, what lies half way between these, and one more. */
const FUSED_BYTES = 3 * 8 * TABLE_ENTRIES;
const TRIALS = 2 * TABLE_ENTRIES;
/** The largest error allowed for a table against the steps that it replaces: an eighth of an 8-bit level. */
const CLOSE = 1 / 2040;

const fusedIn = (steps: readonly Step[]): FusedStep[] => steps.filter((step): step is FusedStep => step.do === 'fused');
const fusedOf = ({ steps, locals }: Route): FusedStep[] => [steps, ...locals.map((blur) => blur.steps)].flatMap(fusedIn);

/** Lays the tables of some passes out one behind another; returns their places and how many bytes they take. */
function placesOf(passes: readonly Pass[], layout: Layout): { bakes: ReadonlyMap<Value, number>; fused: ReadonlyMap<Value, number>; bytes: number } {
  const routes = passes.flatMap((pass) => (pass.do === 'warp' ? [] : [pass.route]));
  let top = 0;
  const places = (values: readonly { to: Value }[], bytes: number): Map<Value, number> =>
    new Map([...new Set(values.map(({ to }) => to))].map((to) => [to, (top += bytes) - bytes]));
  const bakes = places(
    routes.flatMap((route) => route.bakes),
    bakedBytes(layout),
  );
  const fused = places(routes.flatMap(fusedOf), FUSED_BYTES);
  return { bakes, fused, bytes: top };
}

/** Returns how many bytes at the beginning of each part's scratch memory are for its tables. */
export const tablesBytes = (passes: readonly Pass[], layout: Layout): number => placesOf(passes, layout).bytes;

/** Returns how many further bytes making one of a route's tables needs at most. */
export const makingBytes = (route: Route): number =>
  Math.max(0, ...[...route.bakes, ...fusedOf(route)].map(({ steps, to }) => (TRIALS + 2 * CHUNK) * PIXEL + Scanlines.bytes(steps, to)));

/** Tables that a worker makes for itself when they are first asked for, each once for a plan: what values of a file become, and what runs of steps do. */
export class OwnTables {
  /** Where scratch is free. */
  readonly end: number;
  private readonly places: ReturnType<typeof placesOf>;
  private readonly bakes = new Map<Value, Leaf>();
  private readonly fused = new Map<Value, number | undefined>();
  private readonly at: number;

  constructor(
    private readonly plan: Plan,
    private readonly kernels: Kernels,
    part: number,
  ) {
    this.at = plan.scratch[part] as number;
    this.places = placesOf(plan.passes, plan.source.layout);
    this.end = this.at + this.places.bytes;
  }

  /**
   * The table of what a file's values become, made of all the greys by the steps themselves.
   * @param spare scratch for `makingBytes`.
   */
  baked(bake: Bake, spare: number): Leaf {
    const leaf = this.bakes.get(bake.to) ?? this.bake(bake, this.at + (this.places.bakes.get(bake.to) as number), spare);
    this.bakes.set(bake.to, leaf);
    return leaf;
  }

  /** Returns where the table of a run of steps lies; undefined where it would not be accurate enough. */
  fusedAt(step: FusedStep, spare: number): number | undefined {
    if (this.fused.has(step.to)) return this.fused.get(step.to);
    const at = this.at + (this.places.fused.get(step.to) as number);
    const close = this.tabulate(step, at, spare) < CLOSE ? at : undefined;
    this.fused.set(step.to, close);
    return close;
  }

  private bake({ to, steps }: Bake, at: number, ramp: number): Leaf {
    const k = this.kernels;
    const { layout } = this.plan.source;
    const greys = greysOf(layout);
    const pairs = at + greys * PIXEL;
    const made = ramp + CHUNK * PIXEL;
    const machine = this.trial(steps, PHOTO, to, ramp, made + CHUNK * PIXEL);
    for (let from = 0; from < greys; from += CHUNK) {
      const n = Math.min(CHUNK, greys - from);
      k.ramp(ramp, from, n, greys - 1);
      machine.run(0, 0, n, made);
      k.apart(at, made, from, n, greys);
    }
    if (k.bends(ramp, at, greys)) {
      k.copy(at, ramp, BENDS);
      return { as: 'baked', by: 'bends', at };
    }
    if (looksUpPairs(layout) && k.pairs(pairs, at)) return { as: 'baked', by: 'pairs', at: pairs };
    return { as: 'baked', by: 'table', at };
  }

  /** Returns the largest error of a table, which is half way between two entries. */
  private tabulate({ steps, from, to }: FusedStep, at: number, ramp: number): number {
    const k = this.kernels;
    const made = ramp + CHUNK * PIXEL;
    const machine = this.trial(steps, from, to, ramp, made + TRIALS * PIXEL);
    for (let i = 0; i < TRIALS; i += CHUNK) {
      const n = Math.min(CHUNK, TRIALS - i);
      k.squares(ramp, i, n, TRIALS - 2);
      machine.run(0, 0, n, made + i * PIXEL);
    }
    return k.tables(at, made);
  }

  /** A machine that does some steps to the greys at `ramp`. */
  private trial(steps: readonly Step[], from: Value, to: Value, ramp: number, at: number): Scanlines {
    const leaf: Leaf = { as: 'tile', pixelFormat: 'rgba', x: 0, y: 0, at: ramp, stride: 0 };
    return new Scanlines(this.plan, this.kernels, at, steps, to, new Map([[from, leaf]]), { pixelFormat: 'rgba' });
  }
}
