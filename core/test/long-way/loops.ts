import { referenceKernels } from '../../kernels/reference';
import { newMemory } from '../../src/pixels/kernels';
import type { Table } from '../../src/expressions/image';
import { filterOf, type Filtering } from '../../src/expressions/filters';
import { opOf, type OpId } from '../../src/expressions/ops';
import { map, pixel, premultiplied, straight, type Whole } from './picture';

const [A, B, TO, LINE, TABLE] = [1 << 10, 1 << 16, 1 << 17, 1 << 18, 1 << 19];
/** Whole images, for filters of neighbours. */
const [IMAGE, MADE] = [2 << 20, 3 << 20];
const PAGES = 64;

type Size = Pick<Whole, 'width' | 'height'>;

/** The readable loops of single pixels, each run over whole images row by row. */
export class Loops {
  private readonly memory = newMemory(false);
  private readonly kernels;
  private readonly floats: Float32Array;

  constructor() {
    this.memory.grow(PAGES);
    this.kernels = referenceKernels(this.memory);
    this.floats = new Float32Array(this.memory.buffer);
  }

  /** @param size of what an op without inputs makes. */
  run(op: OpId, numbers: readonly number[], table: Table | undefined, [first, second]: readonly Whole[], size: Size): Whole {
    const { takes, gives, premultiplied: own = false, bind } = opOf(op);
    if (table) this.floats.set(table.make(), TABLE / 4);
    const run = bind(this.kernels, numbers, TABLE, LINE);
    const { width, height } = size;
    const out = new Float64Array(4 * width * height);
    const lay = (image: Whole, y: number, content: 'colour' | 'numbers' | undefined, to: number): void => {
      for (let x = 0; x < width; x++) {
        const v = pixel(image, y * width + x);
        const laid = content === 'colour' && !own ? straight(v) : v;
        for (let c = 0; c < 4; c++) this.floats[to / 4 + 4 * x + c] = laid[c] as number;
      }
    };
    for (let y = 0; y < height; y++) {
      if (first) lay(first, y, takes[0], A);
      if (second) lay(second, y, takes[1], B);
      run(TO, A, B, width, 0, y);
      out.set(this.floats.subarray(TO / 4, TO / 4 + 4 * width), 4 * y * width);
    }
    const made = { width, height, at: out };
    return gives === 'colour' && !own && first
      ? map(made, (i) => {
          const [r, g, b] = pixel(made, i);
          return premultiplied([r, g, b, pixel(first, i)[3]]);
        })
      : made;
  }

  /** A filter of pixels by their neighbours, on a whole image of up to 65536 pixels, at full size. */
  filter({ filter, numbers }: Filtering, image: Whole): Whole {
    const { table, bind } = filterOf(filter);
    const { width, height } = image;
    this.floats.set(table(numbers, 1), TABLE / 4);
    this.floats.set(image.at, IMAGE / 4);
    bind(this.kernels)(MADE, IMAGE, width, height, { left: 0, top: 0, cols: width, rows: height }, 0, 0, TABLE, LINE);
    return { width, height, at: Float64Array.from(this.floats.subarray(MADE / 4, MADE / 4 + 4 * width * height)) };
  }
}
