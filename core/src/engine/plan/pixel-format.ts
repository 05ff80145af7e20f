import { modeOf } from '../../blend';
import { PIXEL, TRIPLE } from '../../pixels/kernels';
import type { Layout } from '../../pixels/picture';
import { opOf } from '../../expressions/ops';
import { inputsOf, type Step, type Value } from '../../stack/program';

/** How rows lie in memory: as RGBA pixels, or as RGB rows, which suffice where everything is opaque and the step has a loop for them. */
export type PixelFormat = 'rgba' | 'rgb';
export const sizeOf = (pixelFormat: PixelFormat): 12 | 16 => (pixelFormat === 'rgb' ? TRIPLE : PIXEL);
/** Vectors that hold a row of n pixels, and its bytes in images, where each row begins with a whole vector. */
export const vectorsOf = (pixelFormat: PixelFormat, n: number): number => Math.ceil((n * sizeOf(pixelFormat)) / PIXEL);
export const rowBytes = (pixelFormat: PixelFormat, n: number): number => vectorsOf(pixelFormat, n) * PIXEL;
/** Blurred images are RGB rows where all is opaque, unless they are made of four numbers or by a filter of pixels. */
export const reducedFormat = (
  { channels }: Pick<Layout, 'channels'>,
  { numbers = false, by }: { readonly numbers?: boolean; readonly by?: unknown },
): PixelFormat => (channels === 3 && !numbers && by === undefined ? 'rgb' : 'rgba');

/** Chooses the format of each step: pixels up to the last step that needs them and RGB rows from there on, where the conversion pays. */
export class PixelFormats {
  /** Values that are pixels when they are made or fetched. */
  private readonly pixels = new Set<Value>();
  private readonly late: ReadonlySet<Step>;

  /**
   * @param opaque whether there may be RGB rows at all.
   * @param numbers values of four numbers, which are never RGB rows.
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
      if (opaque && takesRgb(step) && !this.pixels.has(step.to)) late.add(step);
      else early(step);
    }
    const broughtOver = new Set([...late].flatMap(inputsOf).filter((value) => this.pixels.has(value)));
    const worth = broughtOver.size <= late.size;
    if (!worth) late.forEach(early);
    this.late = worth ? late : new Set();
  }

  ofStep(step: Step): PixelFormat {
    return this.late.has(step) ? 'rgb' : 'rgba';
  }

  ofValue(value: Value): PixelFormat {
    return this.opaque && !this.pixels.has(value) ? 'rgb' : 'rgba';
  }
}

function takesRgb(step: Step): boolean {
  if (step.do === 'mix') return step.mask === undefined && !step.own && !step.beneath && modeOf(step.mode).by === 'channel';
  if (step.do === 'fused') return step.alike && step.steps.every(takesRgb);
  return step.do === 'fade' || (step.do === 'point' && opOf(step.op).rgbRows !== undefined);
}

/** A value in one of its formats. */
export type Row = `${Value} ${PixelFormat}`;
export const rowOf = (value: Value, pixelFormat: PixelFormat): Row => `${value} ${pixelFormat}`;

/** Counts how often each row is read: by steps, and once where it is converted to the other format. */
export function usesOf(steps: readonly Step[], formats: PixelFormats): Map<Row, number> {
  const uses = new Map<Row, number>();
  const use = (row: Row): void => void uses.set(row, (uses.get(row) ?? 0) + 1);
  for (const step of steps)
    for (const value of inputsOf(step)) {
      const [row, first] = [rowOf(value, formats.ofStep(step)), rowOf(value, formats.ofValue(value))];
      if (row !== first && !uses.has(row)) use(first);
      use(row);
    }
  return uses;
}
