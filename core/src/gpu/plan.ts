import { filterShaders, halving } from '../../kernels/wgsl';
import { costOfAll } from '../stack/cost';
import { filterOf, type Filtering } from '../expressions/filters';
import { grownBy, pyramidFor, pyramidSizes } from '../pixels/pyramid';
import type { Layout } from '../pixels/picture';
import { inputsOf, PHOTO, slice, type Program, type Step, type Value } from '../stack/program';
import type { Arena } from './arena';
import { neighbours, pointwise, runningSums, type Area, type Dispatch, type Leaf, type Target } from './shader';

type BlurStep = Extract<Step, { do: 'blur' }>;

/** What a plan works with: where images and tables lie, and what is at hand from before. */
export interface Ground {
  readonly layout: Layout;
  /** Images of four floats a pixel; its unit is a pixel. */
  readonly images: Arena;
  /** Blurred images, by their values. */
  readonly kept: Map<Value, Extract<Leaf, { as: 'image' | 'small' }>>;
  /** Where the photo and other photos lie, as bytes. */
  readonly bytes: ReadonlyMap<Value, Extract<Leaf, { as: 'bytes' }>>;
  /** Where a table lies, by a name that stands for what is in it. */
  readonly tableAt: (name: string, make: () => Float32Array) => number;
}

/** Taps of a Gaussian, and how its small image is made and grown back; or the same for a filter. */
interface Way {
  readonly factor: number;
  readonly origin: number;
  readonly name: string;
  readonly table: () => Float32Array;
  readonly radius: number;
}

function wayOf({ sigmaPx, by }: BlurStep): Way {
  if (by) {
    const filter = filterOf(by.filter);
    const factor = filter.factor(by.numbers);
    const { origin } = grownBy(factor);
    return { factor, origin, name: `${by.filter} ${by.numbers.join(' ')}`, table: () => filter.table(by.numbers, factor), radius: 0 };
  }
  const { factor, origin, taps, radius } = pyramidFor(sigmaPx);
  return { factor, origin, name: `gaussian ${sigmaPx}`, table: () => taps, radius };
}

/** Whole images that are held at most, besides blurred ones; and what one must cost to be worth it, in nanoseconds a pixel on the processor: more than reading it again. */
const MOST_HELD = 3;
const WORTH_HOLDING = 16;

/** Operations of a pixel for how colours change about it, and for halving by four weights or six. */
const STEEP = 70;
const HALVING = { soft: 160, firm: 336 };

const across = /* wgsl */ `
  var sum = tab(t) * near(x, y);
  for (var i = 1; i <= radius; i++) { sum += tab(t + u32(i)) * (near(x - i, y) + near(x + i, y)); }
  return sum;`;
const down = /* wgsl */ `
  var sum = tab(t) * near(x, y);
  for (var i = 1; i <= radius; i++) { sum += tab(t + u32(i)) * (near(x, y - i) + near(x, y + i)); }
  return sum;`;

/** The dispatches that make a picture of a program, in their order. What they blur is kept in `ground`, as long as programs need it. */
export class GpuPlan {
  readonly dispatches: Dispatch[] = [];
  private readonly passing: number[] = [];

  /** @param before the values of the program before this one: what both have is likely to be wanted by the next one too. */
  constructor(
    private readonly ground: Ground,
    private readonly program: Program,
    private readonly before: ReadonlySet<Value> = new Set(),
  ) {
    const needed = new Set(program.steps.map(({ to }) => to));
    for (const [value, { at }] of ground.kept)
      if (!needed.has(value)) {
        ground.images.release(at);
        ground.kept.delete(value);
      }
  }

  /** Makes a value, of an area of the picture. */
  make(value: Value, area: Area, target: Target): void {
    for (const blur of this.blursFor(value)) this.blur(blur);
    for (const beneath of this.beneathChange(value)) if (this.worthHolding(beneath)) this.hold(beneath);
    this.route(value, area, target);
  }

  /** Releases what was needed on the way only. */
  done(): void {
    this.passing.forEach((at) => this.ground.images.release(at));
    this.passing.length = 0;
  }

  /** What steps that are new read of the program before. */
  private beneathChange(value: Value): Value[] {
    const fresh = this.stepsTo(value).filter(({ to }) => !this.before.has(to));
    return [...new Set(fresh.flatMap(inputsOf))].filter((from) => this.before.has(from) && !this.leafOf(from));
  }

  /** Whether an image would take longer to make again than to read, and there is room for it. */
  private worthHolding(value: Value): boolean {
    const { width, height } = this.ground.layout;
    const held = [...this.ground.kept.values()].filter((leaf) => leaf.as === 'image' && leaf.width === width && leaf.height === height);
    return held.length < MOST_HELD && costOfAll(this.stepsTo(value)) >= WORTH_HOLDING;
  }

  private hold(value: Value): Leaf {
    const { width, height } = this.ground.layout;
    const at = this.ground.images.acquire(width * height);
    this.route(value, { x: 0, y: 0, w: width, h: height }, { to: 'image', at });
    const leaf = { as: 'image', at, width, height } as const;
    this.ground.kept.set(value, leaf);
    return leaf;
  }

  /** Blurs that a value needs and that are not at hand, in order. */
  private blursFor(value: Value): BlurStep[] {
    return slice(this.program.steps, [value], new Set(this.ground.kept.keys())).filter((step): step is BlurStep => step.do === 'blur');
  }

  private leafOf(value: Value): Leaf | undefined {
    return this.ground.kept.get(value) ?? this.ground.bytes.get(value);
  }

  /** The steps that lead to a value from what is at hand. */
  private stepsTo(value: Value): Step[] {
    const stops = new Set([PHOTO, ...this.ground.kept.keys(), ...this.ground.bytes.keys()]);
    return stops.has(value) ? [] : slice(this.program.steps, [value], stops);
  }

  /** Carries out the steps without neighbours that lead to a value from what is at hand. */
  private route(value: Value, area: Area, target: Target): void {
    const tableAt = (id: string): number => this.ground.tableAt(id, this.program.tables.get(id) as () => Float32Array);
    const leafOf = (from: Value): Leaf => {
      const leaf = this.leafOf(from);
      if (!leaf) throw new Error(`value ${from} is not at hand`);
      return leaf;
    };
    this.dispatches.push(pointwise(this.stepsTo(value), value, leafOf, tableAt, this.ground.layout.channels === 3, area, target));
  }

  private room(width: number, height: number): number {
    const at = this.ground.images.acquire(width * height);
    this.passing.push(at);
    return at;
  }
  private letGo(at: number): void {
    this.passing.splice(this.passing.indexOf(at), 1);
    this.ground.images.release(at);
  }

  /** What is blurred, whole: as it is at hand, or made first. */
  private whole(value: Value): { leaf: Leaf; end: () => void } {
    const { width, height } = this.ground.layout;
    const leaf = this.leafOf(value);
    if (leaf && leaf.as !== 'small') return { leaf, end: () => undefined };
    const others = this.program.steps.filter((step) => inputsOf(step).includes(value)).length > 1;
    if (others && this.worthHolding(value)) return { leaf: this.hold(value), end: () => undefined };
    const at = this.room(width, height);
    this.route(value, { x: 0, y: 0, w: width, h: height }, { to: 'image', at });
    return { leaf: { as: 'image', at, width, height }, end: () => this.letGo(at) };
  }

  private blur(blur: BlurStep): void {
    const { width, height } = this.ground.layout;
    const way = wayOf(blur);
    const { leaf, end } = this.whole(blur.from);
    const sizes = pyramidSizes(width, height, way.factor);
    let [last, letGo] = [leaf, end];
    sizes.slice(1).forEach((size, i) => {
      const at = this.room(size.width, size.height);
      // The first two are by four weights where another one follows, see `pyramidFor`.
      const how = i < 2 && i + 2 < sizes.length ? 'soft' : 'firm';
      this.dispatches.push(neighbours(last, size, at, () => ({ body: halving[how] }), HALVING[how]));
      letGo();
      last = { as: 'image', at, ...size };
      letGo = () => this.letGo(at);
    });
    const size = sizes.at(-1) ?? { width, height };
    const to = this.ground.images.acquire(size.width * size.height);
    if (blur.by) this.filter(blur.by, last, size, to, way);
    else this.gaussian(last, size, to, way);
    letGo();
    const { factor, origin } = way;
    this.ground.kept.set(blur.to, factor === 1 ? { as: 'image', at: to, ...size } : { as: 'small', at: to, ...size, factor, origin });
  }

  private gaussian(
    from: Leaf,
    size: { width: number; height: number },
    to: number,
    { name, table, radius }: Pick<Way, 'name' | 'table' | 'radius'>,
  ): void {
    const middle = this.room(size.width, size.height);
    const t = this.ground.tableAt(name, table);
    const by = (leaf: Leaf, at: number, body: string): Dispatch =>
      neighbours(
        leaf,
        size,
        at,
        (words) => ({ body: `let t = u32(whole(${words.whole(t)})); let radius = whole(${words.whole(radius)}); ${body}` }),
        8 * (2 * radius + 1),
      );
    this.dispatches.push(by(from, middle, across), by({ as: 'image', at: middle, ...size }, to, down));
    this.letGo(middle);
  }

  private filter(
    { filter: id, numbers }: Filtering,
    from: Leaf,
    size: { width: number; height: number },
    to: number,
    { name, table, factor }: Way,
  ): void {
    const shader = filterShaders.get(id);
    if (!shader) throw new Error(`the filter ${id} has no shader`);
    const { steep, sums, table: own } = shader;
    const t = this.ground.tableAt(name, () => (own ? own(table()) : table()));
    const extra = steep || sums ? this.room(size.width, size.height) : undefined;
    if (sums && extra !== undefined) {
      if (from.as === 'small') throw new Error('a small image is grown back before its rows are summed');
      this.dispatches.push(runningSums(from, extra));
    }
    if (steep && extra !== undefined) {
      const raw = this.room(size.width, size.height);
      this.dispatches.push(neighbours(from, size, raw, () => ({ body: steep.body }), STEEP));
      const taps = (): Float32Array => table().slice(steep.taps, steep.taps + steep.reach + 1);
      this.gaussian({ as: 'image', at: raw, ...size }, size, extra, { name: `${id} way`, table: taps, radius: steep.reach });
      this.letGo(raw);
    }
    this.dispatches.push(
      neighbours(
        from,
        size,
        to,
        (words) => ({
          helpers: shader.helpers,
          body: `let t = u32(whole(${words.whole(t)})); let extra = u32(whole(${words.whole(extra ?? 0)})); ${shader.body}`,
        }),
        shader.operations(numbers, filterOf(id).reach(numbers, factor)),
      ),
    );
    if (extra !== undefined) this.letGo(extra);
  }
}
