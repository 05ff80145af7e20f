import { modeOf } from '../blend';
import { PIXEL, TRIPLE } from '../pixels/kernels';
import type { Layout } from '../pixels/picture';
import { opOf } from '../work/ops';
import { inputsOf, type Step, type Value } from '../stack/compile';

/** Rows of pixels, RGBA; or of triples, which are enough where all is opaque and the step has a loop for them. */
export type Form = 'pixels' | 'triples';
export const sizeOf = (form: Form): 12 | 16 => (form === 'triples' ? TRIPLE : PIXEL);
/** Vectors that hold a row of n pixels, and its bytes in images, where each row begins with a whole vector. */
export const vectorsOf = (form: Form, n: number): number => Math.ceil((n * sizeOf(form)) / PIXEL);
export const rowBytes = (form: Form, n: number): number => vectorsOf(form, n) * PIXEL;
/** Blurred images are triples where all is opaque, unless they are made of four numbers. */
export const smallForm = ({ channels }: Pick<Layout, 'channels'>, { numbers = false }: { readonly numbers?: boolean }): Form =>
  channels === 3 && !numbers ? 'triples' : 'pixels';

/** The forms that steps run in: pixels up to the last one that needs them, and triples from there on, where that is worth bringing rows over. */
export class Forms {
  /** Values that are pixels when they are made or fetched. */
  private readonly pixels = new Set<Value>();
  private readonly late: ReadonlySet<Step>;

  /**
   * @param opaque whether there may be triples at all.
   * @param numbers values of four numbers, which are never triples.
   */
  constructor(
    steps: readonly Step[],
    private readonly opaque: boolean,
    numbers: Iterable<Value> = [],
  ) {
    for (const value of numbers) this.pixels.add(value);
    const late = new Set<Step>();
    const early = (step: Step): void => [step.to, ...inputsOf(step)].forEach((value) => this.pixels.add(value));
    for (const step of [...steps].reverse()) {
      if (opaque && takesTriples(step) && !this.pixels.has(step.to)) late.add(step);
      else early(step);
    }
    const broughtOver = new Set([...late].flatMap(inputsOf).filter((value) => this.pixels.has(value)));
    const worth = broughtOver.size <= late.size;
    if (!worth) late.forEach(early);
    this.late = worth ? late : new Set();
  }

  ofStep(step: Step): Form {
    return this.late.has(step) ? 'triples' : 'pixels';
  }

  ofValue(value: Value): Form {
    return this.opaque && !this.pixels.has(value) ? 'triples' : 'pixels';
  }
}

function takesTriples(step: Step): boolean {
  if (step.do === 'mix') return !step.own && !step.beneath && modeOf(step.mode).by === 'channel';
  if (step.do === 'fused') return step.alike && step.steps.every(takesTriples);
  return step.do === 'fade' || (step.do === 'point' && opOf(step.op).triples !== undefined);
}

/** A value in one of its forms. */
export type Row = `${Value} ${Form}`;
export const rowOf = (value: Value, form: Form): Row => `${value} ${form}`;

/** How often each row is read: by steps, and once where it is brought over to the other form. */
export function usesOf(steps: readonly Step[], forms: Forms): Map<Row, number> {
  const uses = new Map<Row, number>();
  const use = (row: Row): void => void uses.set(row, (uses.get(row) ?? 0) + 1);
  for (const step of steps)
    for (const value of inputsOf(step)) {
      const [row, first] = [rowOf(value, forms.ofStep(step)), rowOf(value, forms.ofValue(value))];
      if (row !== first && !uses.has(row)) use(first);
      use(row);
    }
  return uses;
}
