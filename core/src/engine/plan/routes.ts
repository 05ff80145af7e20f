import { inputsOf, slice, type Program, type Step, type Value } from '../../stack/program';
import { opOf } from '../../expressions/ops';
import type { Layout } from '../../pixels/picture';
import { reducedFormat } from './pixel-format';
import { GROWN_TILE, LARGE_GROWN_TILE, LARGE_LOCAL_TILE, LOCAL_TILE, PLAIN_TILE, type Bake, type LocalBlur, type Pass, type Route } from './plan';
import type { BlurStep, Reductions } from './reductions';
import { fitting, type TileSize } from './tiles';

/** A program as it was compiled and with its steps fused, the values of it that are baked into tables, and its blurs. */
interface Work {
  readonly compiled: Program;
  readonly program: Program;
  readonly baked: ReadonlySet<Value>;
  readonly blurs: readonly BlurStep[];
}

/** The ways by which a tile gets to the values of a program, and the passes that must have been done before. */
export class Routes {
  /** Passes in their order; those that make what a route reads are put in when the route is asked for. */
  readonly passes: Pass[] = [];
  /** Blurs of the whole picture that routes read. */
  readonly used = new Set<Value>();
  /** Values at which the steps of a route begin, because they are at hand. */
  readonly stops: Set<Value>;
  private readonly blurs: ReadonlyMap<Value, BlurStep>;

  constructor(
    private readonly layout: Layout,
    private readonly reductions: Reductions,
    private readonly work: Work,
    atHand: Iterable<Value>,
    private readonly hold: boolean,
  ) {
    this.blurs = new Map(work.blurs.map((blur) => [blur.to, blur]));
    this.stops = new Set([...this.blurs.keys(), ...work.baked, ...atHand]);
  }

  /** The steps from what is at hand to some values, of which the first is what the route is for. */
  to(values: readonly [Value, ...Value[]]): Route {
    const locals = new Map<Value, LocalBlur>();
    const bakes = new Map<Value, Bake>();
    const steps = this.stepsTo(values, locals, bakes);
    return { bakes: [...bakes.values()], locals: [...locals.values()], steps, out: values[0] };
  }

  /** The tile that suits a route over an area; the whole picture, unless given. */
  tileFor(route: Route, area: TileSize = this.layout, banded = false): TileSize {
    if (route.locals.length > 0) return fitting(area, LARGE_LOCAL_TILE, LOCAL_TILE, banded);
    return this.grows(route) ? fitting(area, LARGE_GROWN_TILE, GROWN_TILE, banded) : PLAIN_TILE;
  }

  /** Whether a step is a blur that each tile makes for itself. */
  isLocal(step: Step): boolean {
    return step.do === 'blur' && !this.reductions.isGlobal(step);
  }

  private stepsTo(values: readonly Value[], locals: Map<Value, LocalBlur>, bakes: Map<Value, Bake>): Step[] {
    const { compiled, program, baked, blurs } = this.work;
    const steps = slice(program.steps, values, this.stops);
    const reads = new Set([...values, ...steps.flatMap(inputsOf)]);
    for (const to of reads) if (baked.has(to)) bakes.set(to, { to, steps: slice(compiled.steps, [to], new Set()) });
    for (const blur of blurs) {
      if (!reads.has(blur.to)) continue;
      if (this.reductions.isGlobal(blur)) this.reduce(blur);
      else if (!locals.has(blur.to)) locals.set(blur.to, this.local(blur, this.stepsTo([blur.from], locals, bakes)));
    }
    return steps;
  }

  private local(blur: BlurStep, steps: readonly Step[]): LocalBlur {
    const { factor, radius, tapsAt, weightsAt, origin } = this.reductions.pyramid(blur);
    return {
      to: blur.to,
      from: blur.from,
      pixelFormat: reducedFormat(this.layout, blur),
      factor: factor as 1 | 2,
      radius,
      taps: tapsAt,
      ...(blur.by && { filter: blur.by.filter }),
      weights: weightsAt,
      origin,
      steps,
    };
  }

  /** Has a blur of the whole picture made before what reads it. */
  private reduce(blur: BlurStep): void {
    if (this.used.has(blur.to)) return;
    this.used.add(blur.to);
    if (this.reductions.known.includes(blur.to)) return;
    const { before, step } = this.beneath(blur);
    if (before && step && this.reductions.refits(blur, before)) {
      this.reduce(before);
      this.passes.push(this.reductions.refit(blur, before, step));
      return;
    }
    const isPlain = (route: Route): boolean => route.locals.length === 0 && !this.grows(route);
    this.passes.push(this.reductions.pass(blur, () => this.to([blur.from]), isPlain, this.hold));
  }

  /** The blur, and the loop that makes something as smooth of it, of which another one is made. */
  private beneath({ from }: BlurStep): { readonly before?: BlurStep | undefined; readonly step?: Extract<Step, { do: 'point' }> } {
    const step = this.work.program.steps.find(({ to }) => to === from);
    if (step?.do !== 'point' || !opOf(step.op).smooth) return {};
    const [of] = step.from;
    return { step, before: of === undefined ? undefined : this.blurs.get(of) };
  }

  /** Whether a route reads blurs that are grown back from small images. */
  private grows({ steps, out }: Route): boolean {
    return [out, ...steps.flatMap(inputsOf)].some((value) => this.blurs.has(value));
  }
}
