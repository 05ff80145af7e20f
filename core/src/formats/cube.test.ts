import fc from 'fast-check';
import { layer, newEngine, resources, stackOf } from '../../test/kernels';
import { readCube, writeCube, type Cube } from './cube';

const identity = (size: number): Cube => ({
  title: 'Identity',
  dimensions: 3,
  size,
  least: [0, 0, 0],
  most: [1, 1, 1],
  values: Float32Array.from(
    Array.from({ length: size ** 3 }, (_, i) => [i % size, Math.floor(i / size) % size, Math.floor(i / size ** 2)].map((v) => v / (size - 1))).flat(),
  ),
});

async function through(name: string, colours: readonly number[][]): Promise<number[][]> {
  const engine = await newEngine();
  const bytes = engine.open({ width: colours.length, height: 1, depth: 16, channels: 3 });
  colours.flat().forEach((v, i) => {
    const word = Math.round(v * 65535);
    bytes.set([word & 255, word >> 8], 2 * i);
  });
  const shown = new Float32Array(
    engine.render({ stack: stackOf(layer('cube', { file: name })), format: 'float' })?.pixels.slice().buffer ?? new ArrayBuffer(0),
  );
  return colours.map((_, i) => [0, 1, 2].map((c) => shown[4 * i + c] as number));
}

const colours = Array.from({ length: 64 }, (_, i) => [0, 1, 2].map((c) => Math.round((((i * (7 + 4 * c)) % 64) / 63) * 65535) / 65535));

describe('a .cube file', () => {
  it('of a table that changes nothing changes nothing, at any size', async () => {
    for (const size of [2, 17, 33]) {
      resources.setCube(`identity ${size}`, identity(size));
      const out = await through(`identity ${size}`, colours);
      out.forEach((colour, i) => colour.forEach((v, c) => expect(Math.abs(v - (colours[i]?.[c] as number))).toBeLessThan(2e-6)));
    }
  });

  it('is read as it was written, with its domain', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 5 }),
        fc.constantFrom(1 as const, 3 as const),
        fc.infiniteStream(fc.double({ min: -1, max: 2, noNaN: true })),
        (size, dimensions, stream) => {
          const count = 3 * (dimensions === 1 ? size : size ** 3);
          const values = Float32Array.from([...stream.take(count)]);
          const cube: Cube = { title: 'Evening', dimensions, size, least: [0, 0, -0.5], most: [1, 2, 1], values };
          const again = readCube(writeCube(cube));
          expect({ ...again, values: 0 }).toEqual({ ...cube, values: 0 });
          again.values.forEach((v, i) => expect(Math.abs(v - (values[i] as number))).toBeLessThan(1e-6));
        },
      ),
      { numRuns: 30 },
    );
  });

  it('of curves bends each channel on straight lines between its entries', async () => {
    resources.setCube('steps', readCube('LUT_1D_SIZE 3\n0 0 1\n0.2 0.5 0.5\n1 1 0\n'));
    const [a, b] = await through('steps', [
      [0.25, 0.25, 0.25],
      [0.75, 0.5, 1],
    ]);
    [0.1, 0.25, 0.75].forEach((v, c) => expect(a?.[c]).toBeCloseTo(v, 4));
    [0.6, 0.5, 0].forEach((v, c) => expect(b?.[c]).toBeCloseTo(v, 4));
  });

  it('keeps greys grey where its diagonal is grey, as tetrahedra do and boxes do not', async () => {
    const size = 3;
    const values = identity(size).values.map((v, i) => (Math.floor(i / 3) % 13 === 0 ? v : 1 - v));
    resources.setCube('diagonal', { ...identity(size), values });
    const out = await through(
      'diagonal',
      [0.1, 0.3, 0.45, 0.8].map((v) => [v, v, v]),
    );
    out.forEach(([r = 0, g = 0, b = 0]) => {
      expect(Math.abs(r - g)).toBeLessThan(1e-6);
      expect(Math.abs(g - b)).toBeLessThan(1e-6);
    });
  });

  it.each([
    ['', 'no LUT_1D_SIZE'],
    ['LUT_3D_SIZE 2\n0 0 0', 'should have 8 entries and has 1'],
    ['LUT_3D_SIZE 300', 'from 2 to 65'],
    ['LUT_1D_SIZE 2\n0 0 0\n1 1', 'line 3: An entry is three numbers'],
    ['LUT_1D_SIZE 2\n0 0 0\n1 1 1\n1 1 1', 'line 4: There are more'],
    ['0 0 0', 'line 1: The size of the table is not said'],
    ['LUT_1D_SIZE 2\nLUT_3D_SIZE 2', 'said twice'],
    ['LUT_1D_SIZE 2\nDOMAIN_MIN 1 0 0\n0 0 0\n1 1 1', 'The domain begins where it ends'],
    ['GREETINGS 1', '“GREETINGS” is not known'],
  ])('that is broken is refused with what is wrong: %j', (text, sentence) => {
    expect(() => readCube(text)).toThrow(sentence);
  });
});
