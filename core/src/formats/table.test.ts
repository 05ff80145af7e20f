import { Chance } from '../../test/chance';
import { floats, worst } from '../../test/engine';
import { group, layer, newEngine, stackOf } from '../../test/kernels';
import { kinds, type KindId } from '../kinds';
import { emptyMask, newPart } from '../masks/mask';
import { readCube, writeCube, type Cube } from './cube';
import { latticePicture, leftWords, tableFrom, tableOf, type TableSize } from './table';

const layout = { width: 24, height: 18, depth: 16, channels: 3 } as const;
const COUNT = layout.width * layout.height;

/** The same pixels in another order. */
const shuffled = (i: number): number => (i * 191 + 57) % COUNT;

describe.each(kinds.map(({ id }) => id))('a table of %s', (id: KindId) => {
  it('is said to be possible only where a pixel comes from itself alone, wherever it lies', async () => {
    const chance = new Chance(id.length);
    const stack = stackOf(layer(id, chance.params(id), { gate: chance.gate() }));
    const { left, stack: carried } = tableOf(stack);
    if (left.length > 0) {
      expect(left[0]?.why).toMatch(/^it /);
      expect(carried.layers[0]?.on).toBe(false);
      return;
    }
    const values = chance.proof(layout);
    const straight = await floats(stack, layout, values);
    const moved = await floats(stack, layout, (i) => values(3 * shuffled(Math.floor(i / 3)) + (i % 3)));
    expect(
      worst(
        moved,
        straight.map((_, i) => straight[4 * shuffled(Math.floor(i / 4)) + (i % 4)] as number),
      ),
    ).toBeLessThan(2e-4);
  });
});

/** Between the eight corners of the cell that a colour lies in: the plainest way to read a lattice. */
function trilinear({ size, values }: Cube, rgb: readonly number[]): number[] {
  const at = rgb.map((v) => Math.min(size - 2, Math.floor(v * (size - 1))));
  const part = rgb.map((v, c) => v * (size - 1) - (at[c] as number));
  return [0, 1, 2].map((c) => {
    let sum = 0;
    for (let corner = 0; corner < 8; corner++) {
      const [i, j, k] = [corner & 1, (corner >> 1) & 1, corner >> 2].map((bit, axis) => (at[axis] as number) + bit) as [number, number, number];
      const weight = [corner & 1, (corner >> 1) & 1, corner >> 2].reduce(
        (w, bit, axis) => w * (bit ? (part[axis] as number) : 1 - (part[axis] as number)),
        1,
      );
      sum += weight * (values[3 * (i + size * (j + size * k)) + c] as number);
    }
    return sum;
  });
}

async function tableBy(stack: Parameters<typeof tableOf>[0], size: TableSize): Promise<Cube> {
  const { layout: lattice, bytes } = latticePicture(size);
  const engine = await newEngine();
  engine.open(lattice).set(bytes);
  const made = engine.render({ stack: tableOf(stack).stack, format: 'rgb16' });
  return readCube(writeCube(tableFrom(made?.pixels.slice() ?? new Uint8Array(), size, 'Try')));
}

describe('a table out of a stack', () => {
  const stack = stackOf(
    layer('tone', { contrast: 0.3, shadows: 0.2 }),
    group([layer('grade', { shadowsHue: 230, shadowsAmount: 0.3, slopeRed: 1.1 }), layer('saturation', { amount: -0.3 })], { strength: 0.7 }),
  );

  it.each([17, 33, 65] as const)('does to colours what the layers do: %d entries a side', async (size) => {
    const cube = await tableBy(stack, size);
    const chance = new Chance(size);
    const values = Array.from({ length: COUNT * 3 }, () => chance.from(0, 1));
    const truth = await floats(stack, layout, (i) => values[i] as number);
    let worst = 0;
    for (let i = 0; i < COUNT; i++) {
      const got = trilinear(cube, values.slice(3 * i, 3 * i + 3));
      for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs((got[c] as number) - Math.min(1, Math.max(0, truth[4 * i + c] as number))));
    }
    expect(worst).toBeLessThan(size === 17 ? 0.03 : 0.012);
  });

  it('leaves out what looks around, what differs from place to place and what lies on a place, and says so', () => {
    const oval = { ...emptyMask, parts: [newPart('oval', 'o')] };
    const tones = { ...emptyMask, parts: [newPart('tones', 't')] };
    const mixed = stackOf(
      layer('tone', {}, { name: 'Plain' }),
      layer('blur', {}, { name: 'Soft' }),
      layer('grain', {}, { name: 'Grain' }),
      layer('curves', {}, { name: 'Here', mask: oval }),
      layer('exposure', { stops: 1 }, { name: 'Bright', mask: tones }),
      group([layer('vignette', {}, { name: 'Edges' }), layer('levels', {}, { name: 'In the group' })]),
      layer('blur', {}, { name: 'Off', on: false }),
    );
    const { left, stack: carried } = tableOf(mixed);
    expect(left).toEqual([
      { name: 'Soft', why: 'it looks at what is around a place' },
      { name: 'Grain', why: 'it is not the same everywhere' },
      { name: 'Here', why: 'its mask lies on a place' },
      { name: 'Edges', why: 'it is not the same everywhere' },
    ]);
    expect(carried.layers.map(({ on }) => on)).toEqual([true, false, false, false, true, true, false]);
    expect(leftWords({ left, stack: carried }).split('\n')[0]).toBe('# Not in this table: Soft, since it looks at what is around a place.');
  });

  it('of nothing is the identity', async () => {
    const cube = await tableBy(stackOf(), 17);
    const { layout: lattice, bytes } = latticePicture(17);
    expect(lattice).toEqual({ width: 289, height: 17, channels: 3, depth: 16 });
    const want = new Uint16Array(bytes.buffer);
    expect(
      worst(
        Float32Array.from(cube.values),
        Float64Array.from(want, (v) => v / 65535),
      ),
    ).toBeLessThan(1e-5);
  });
});
