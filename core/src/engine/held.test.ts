import { filmPlaceOf } from '../geometry/shape';
import { kinds } from '../kinds';
import { newMemory } from '../pixels/kernels';
import type { Layout } from '../pixels/picture';
import { fill, floats, worst } from '../../test/engine';
import { extremes, fastKernels, layer, newEngine, scene, sequence, stackOf } from '../../test/kernels';
import { compile } from '../stack/compile';
import { ValueNumbers } from '../stack/program';
import { Engine, heapIn } from './engine';
import { control } from './work/pool';
import { bakeable } from './plan/baked';

describe('steps that are baked into a table of what a file’s values become', () => {
  // Large enough that 65536 values are worth a table.
  const [width, height] = [700, 600];
  const values = scene(width, height, 4);
  const chain = stackOf(
    layer('tone', { brightness: 0.1, contrast: 0.3 }),
    layer('levels', { black: 0.1, midtone: 1.4 }, { blend: 'soft-light', strength: 0.7 }),
    layer('tone', { contrast: 0.4 }, { blend: 'screen', reads: 'photo' }),
    layer('blur', { radius: 0.01 }, { blend: 'multiply', strength: 0.5 }),
  );
  it.each([8, 16] as const)('give what they give one by one, as where a photo has alpha: %d bits', async (depth) => {
    const pixel = (channels: 3 | 4) => (i: number) => (i % channels === 3 ? 1 : (values[4 * Math.floor(i / channels) + (i % channels)] as number));
    const at = (channels: 3 | 4): Promise<Float32Array> => floats({ ...chain, master: 1.3 }, { width, height, depth, channels }, pixel(channels));
    const program = compile(chain, filmPlaceOf({ width, height }), new ValueNumbers());
    expect(bakeable(program.steps, { width, height, depth, channels: 3 }).size).toBeGreaterThan(0);
    expect(worst(await at(3), await at(4))).toBeLessThan(1e-6);
  });
});

describe('one change after another', () => {
  const layout: Layout = { width: 140, height: 90, depth: 16, channels: 3 };
  const values = scene(140, 90, 3);
  const layers = kinds.map(({ id }, i) => layer(id, extremes(id)[2], { strength: 0.5, reads: i % 7 === 6 ? 'photo' : 'below' }));
  it.each([1])(
    'gives what a new engine gives, whatever is held from before, from seed %d',
    async (seed) => {
      const engine = await newEngine();
      fill(engine, layout, (i) => values[i] as number);
      const next = sequence(5 + seed);
      // From the second on in any order, which decides what is made when, and where it lies.
      const places = new Map(layers.map((it) => [it, next()]));
      let stack = stackOf(...[...layers].sort((a, b) => (places.get(a) as number) - (places.get(b) as number)));
      for (let i = 0; i < 10; i++) {
        const at = Math.floor(next() * layers.length);
        stack = { ...stack, layers: stack.layers.map((it, j) => (j === at ? { ...it, strength: 0.2 + 0.6 * next(), on: next() > 0.2 } : it)) };
        const rendered = engine.render({ stack, format: 'float' })?.pixels.slice() ?? new Uint8Array();
        expect(worst(new Float32Array(rendered.buffer), await floats(stack, layout, (k) => values[k] as number))).toBe(0);
      }
    },
    60000,
  );
});

describe('an engine whose words lie where something else lay', () => {
  it('begins with nobody waiting', async () => {
    const memory = newMemory(true);
    const heap = heapIn(memory);
    const at = heap.acquire(1e6);
    new Uint8Array(memory.buffer, at, 1e6).fill(1);
    heap.release(at);
    const engine = new Engine(memory, await fastKernels(memory), 2, undefined, undefined, heap);
    expect(engine.controlWords.every((word) => word === 0)).toBe(true);
  });
});

describe('a radius that is changed again and again', () => {
  it('gives what a new engine gives, though only what comes after a quarter of the size is made anew', async () => {
    const layout: Layout = { width: 180, height: 110, depth: 8, channels: 3 };
    const values = scene(180, 110, 3);
    const engine = await newEngine();
    fill(engine, layout, (i) => values[i] as number);
    const at = (radius: number, contrast: number) =>
      stackOf(
        layer('tone', { contrast }, { blend: 'screen' }),
        layer('blur', { radius }, { blend: 'multiply', strength: 0.6 }),
        layer('blur', { radius: 0.2 }, { blend: 'overlay', strength: 0.3 }),
      );
    // By four, eight and sixteen, and back; then of another picture.
    for (const [radius, contrast] of [
      [0.05, 0.1],
      [0.06, 0.1],
      [0.1, 0.1],
      [0.2, 0.1],
      [0.05, 0.1],
      [0.05, 0.3],
      [0.1, 0.3],
    ] as const) {
      const rendered = engine.render({ stack: at(radius, contrast), format: 'float' })?.pixels.slice() ?? new Uint8Array();
      expect(worst(new Float32Array(rendered.buffer), await floats(at(radius, contrast), layout, (k) => values[k] as number))).toBe(0);
    }
  });

  it('takes no more memory for the thousandth than for the tenth', async () => {
    const engine = await newEngine();
    fill(engine, { width: 24, height: 16, depth: 8, channels: 3 }, (i) => (i % 7) / 7);
    const sizes = Array.from({ length: 1000 }, (_, i) => {
      const stack = stackOf(layer('blur', { radius: 0.2 + i * 1e-5 }), layer('blur', { radius: 0.05 + i * 1e-6 }));
      return engine.render({ stack, format: 'rgb8' })?.pixels.buffer.byteLength;
    });
    expect(sizes[999]).toBe(sizes[9]);
  });

  it('begins anew where the one before was stopped', async () => {
    const layout: Layout = { width: 180, height: 110, depth: 8, channels: 3 };
    const values = scene(180, 110, 3);
    const engine = await newEngine();
    fill(engine, layout, (i) => values[i] as number);
    const at = (radius: number) => stackOf(layer('blur', { radius }));
    expect(engine.render({ stack: at(0.06), format: 'float', begun: (words) => control.stop(words) })).toBeUndefined();
    const rendered = engine.render({ stack: at(0.07), format: 'float' })?.pixels.slice() ?? new Uint8Array();
    expect(worst(new Float32Array(rendered.buffer), await floats(at(0.07), layout, (k) => values[k] as number))).toBe(0);
  });
});

describe('a photo that is not needed again', () => {
  const layout: Layout = { width: 300, height: 700, depth: 8, channels: 3 };
  const values = scene(300, 700, 3);
  it.each([0.05, 0.002])('gives its place to the picture where it can: blur of %d', async (radius) => {
    const stack = stackOf(layer('tone', { contrast: 0.2 }), layer('blur', { radius }, { blend: 'overlay' }));
    const [plain, spent] = [await newEngine(), await newEngine()];
    [plain, spent].forEach((engine) => fill(engine, layout, (i) => values[i] as number));
    const bands: number[] = [];
    const rendered = spent.render({ stack, format: 'rgb8', spend: true, band: 256, bandDone: (band) => bands.push(band) });
    expect(Buffer.compare(rendered?.pixels ?? Buffer.alloc(0), plain.render({ stack, format: 'rgb8' })?.pixels ?? Buffer.alloc(1))).toBe(0);
    expect(bands).toEqual([0, 1, 2]);
  });
});
