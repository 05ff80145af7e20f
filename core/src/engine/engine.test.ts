import { filmPlaceOf } from '../geometry/shape';
import { compile } from '../stack/compile';
import { ValueNumbers } from '../stack/program';
import { byteLength, type Layout } from '../pixels/picture';
import { fill, floats, worst } from '../../test/engine';
import { extremes, group, layer, newEngine, resources, scene, slowKernels, stackOf } from '../../test/kernels';
import type { Order } from './engine';
import { LARGE_GROWN_TILE, LARGE_LOCAL_TILE, LOCAL_TILE } from './plan/plan';
import type { Stack } from '../stack/schema';
import { fitting, tileAt, tileCount } from './plan/tiles';
import { kinds, type KindId } from '../kinds';
import { control, Pool, CONTROL_WORDS } from './work/pool';

/** Both gates at work, a group, blurs of every make: direct, at half size, through the pyramid. */
const rich = (): Stack => ({
  ...stackOf(
    group(
      [
        layer('tone', { brightness: 0.1, contrast: -0.2 }, { blend: 'screen', strength: 0.8 }),
        layer(
          'blur',
          { radius: 0.03 },
          {
            blend: 'multiply',
            gate: {
              own: {
                shape: 'smooth',
                nodes: [
                  [0, 0.2],
                  [0.4, 1],
                  [1, 0.5],
                ],
              },
              beneath: {
                shape: 'straight',
                nodes: [
                  [0.1, 0],
                  [0.9, 1],
                ],
              },
            },
          },
        ),
        layer('blur', { radius: 0.008 }, { blend: 'soft-light', strength: 0.5 }),
      ],
      { strength: 0.9 },
    ),
    layer('blur', { radius: 0.002 }, { blend: 'luminosity', strength: 0.7 }),
    layer('levels', { black: 0.05, midtone: 1.3, outWhite: 0.95 }),
    layer('blur', { radius: 0.05 }, { blend: 'overlay', strength: 0.4, reads: 'photo' }),
  ),
  master: 1.2,
});

const sizes: Layout[] = [
  { width: 403, height: 301, depth: 16, channels: 3 },
  { width: 403, height: 301, depth: 8, channels: 4 },
  { width: 301, height: 700, depth: 8, channels: 3 },
];

describe('tiles', () => {
  it.each(sizes)('give the same picture, whatever their size: $width x $height, $depth bit, $channels channels', async (layout) => {
    const values = scene(layout.width, layout.height, layout.channels);
    const whole = await floats(rich(), layout, (i) => values[i] as number, 1024);
    for (const tile of [64, 256, 512]) expect(worst(await floats(rich(), layout, (i) => values[i] as number, tile), whole)).toBeLessThan(1e-6);
  });

  it.each([0.0008, 0.01])('of a large photo give the bytes of small ones, with bands told of or not: blur of %d', async (radius) => {
    const large: Layout = { width: 4200, height: 3200, depth: 8, channels: 3 };
    const stack = stackOf(layer('blur', { radius }, { blend: 'overlay', strength: 0.8 }));
    const engine = await newEngine();
    engine.open(large).forEach((_, i, bytes) => (bytes[i] = (i * 7) ^ (i >> 9)));
    const made = (how: Partial<Order>): Buffer => Buffer.from(engine.render({ stack, format: 'rgb8', ...how })?.pixels.slice() ?? []);
    const bands: number[] = [];
    const small = made({ tile: { width: 512, height: 64 } });
    expect(made({}).equals(small)).toBe(true);
    expect(made({ band: 256, bandDone: (band) => bands.push(band) }).equals(small)).toBe(true);
    expect(bands).toEqual(Array.from({ length: 13 }, (_, i) => i));
  });

  it.each([
    [200, 90],
    [1500, 1000],
    [6000, 4000],
    [12000, 8000],
  ])('cover %d x %d wholly, and lie inside bands', (width, height) => {
    for (const large of [LARGE_LOCAL_TILE, LARGE_GROWN_TILE]) {
      const tile = fitting({ width, height }, large, LOCAL_TILE, true);
      expect(256 % tile.height).toBe(0);
      const area = { x: 0, y: 0, w: width, h: height };
      const pixels = Array.from({ length: tileCount(area, tile) }, (_, i) => tileAt(area, tile, i)).reduce((sum, { w, h }) => sum + w * h, 0);
      expect(pixels).toBe(width * height);
      expect(tileCount(area, fitting({ width, height }, large, LOCAL_TILE))).toBeGreaterThanOrEqual(Math.min(16, tileCount(area, LOCAL_TILE)));
    }
  });

  it.each(kinds.map(({ id }, place): [KindId, number] => [id, place]))(
    'give the same picture for %s at any parameters, and finite values',
    async (id, place) => {
      const layout: Layout = { width: 150, height: 131, depth: 8, channels: 3 };
      const values = scene(layout.width, layout.height, 3);
      // Two of the four, in turn.
      for (const params of extremes(id).filter((_, i) => i % 2 === place % 2)) {
        const stack = stackOf(layer(id, params));
        const whole = await floats(stack, layout, (i) => values[i] as number, 512);
        expect(whole.every(Number.isFinite)).toBe(true);
        // Squares that are transformed begin where a tile does: floats are rounded in another order, and lamps are up to 24 times as bright as white.
        const squares = compile(stack, { ...filmPlaceOf(layout), resources }, new ValueNumbers()).steps.some(
          (step) => step.do === 'blur' && step.by?.filter === 'aperture',
        );
        expect(worst(await floats(stack, layout, (i) => values[i] as number, 64), whole)).toBeLessThan(squares ? 1e-4 : 1e-6);
      }
    },
  );
});

describe('a layer', () => {
  const clear: Layout = { width: 61, height: 47, depth: 8, channels: 4 };
  const values = scene(clear.width, clear.height, 4);
  const made = (stack: Stack): Promise<Float32Array> => floats(stack, clear, (i) => values[i] as number);

  it('of any kind gives the photo back at strength 0', async () => {
    const off = kinds.map(({ id }) => layer(id, extremes(id)[1], { strength: 0 }));
    expect(await made(stackOf(...off))).toEqual(await made(stackOf()));
  });

  const changing = ['blur', 'haze', 'local-contrast', 'solarise', 'infrared', 'orton', 'veil', 'lens-blur', 'motion-blur', 'brushwork', 'picture'];
  it.each(kinds.map(({ id }) => id).filter((id) => !changing.includes(id)))('of %s keeps alpha', async (id) => {
    const photo = await made(stackOf());
    const off = (await made(stackOf(layer(id, extremes(id)[1])))).map((v, i) => (i % 4 === 3 ? Math.abs(v - (photo[i] as number)) : 0));
    expect(Math.max(...off)).toBeLessThan(5e-7);
  });
});

describe('the readable kernels', () => {
  it('make the same picture as the fast ones', async () => {
    const layout: Layout = { width: 97, height: 61, depth: 8, channels: 4 };
    const values = scene(layout.width, layout.height, 4);
    const fast = await floats(rich(), layout, (i) => values[i] as number);
    expect(worst(await floats(rich(), layout, (i) => values[i] as number, undefined, slowKernels), fast)).toBeLessThan(5e-6);
  });
});

describe('a photo that nothing is done to', () => {
  const layout: Layout = { width: 64, height: 48, depth: 8, channels: 3 };
  const values = scene(64, 48, 3);
  const nothing: [string, Stack][] = [
    ['an empty stack', stackOf()],
    ['everything off', stackOf(layer('blur', {}, { on: false }), layer('tone', { brightness: 1 }, { on: false }))],
    ['strength 0', stackOf(layer('blur', {}, { strength: 0 }), group([layer('tone', { brightness: 0.5 })], { strength: 0 }))],
    ['master 0', { ...rich(), master: 0 }],
    ['neutral layers', stackOf(layer('tone'), layer('levels'))],
    [
      'a closed gate',
      stackOf(
        layer(
          'tone',
          { brightness: 0.5 },
          {
            gate: {
              own: {
                shape: 'straight',
                nodes: [
                  [0, 0],
                  [1, 0],
                ],
              },
              beneath: {
                shape: 'straight',
                nodes: [
                  [0, 1],
                  [1, 1],
                ],
              },
            },
          },
        ),
      ),
    ],
  ];
  it.each(nothing)('comes back exactly: %s', async (_name, stack) => {
    const engine = await newEngine();
    fill(engine, layout, (i) => values[i] as number);
    const source = Uint8Array.from(values, (v) => Math.round(v * 255));
    expect([...(engine.render({ stack, format: 'rgb8' })?.pixels ?? [])]).toEqual([...source]);
  });

  it('keeps 16 bits and alpha exactly', async () => {
    const engine = await newEngine();
    const deep: Layout = { ...layout, depth: 16, channels: 4 };
    const next = scene(64, 48, 4);
    fill(engine, deep, (i) => next[i] as number);
    const before = engine.open(deep).slice();
    expect(before.length).toBe(byteLength(deep));
    fill(engine, deep, (i) => next[i] as number);
    const pixels = engine.render({ stack: stackOf(), format: 'rgba16' })?.pixels as Uint8Array;
    const words = new Uint16Array(pixels.slice().buffer);
    const off = [...words].map((v, i) => Math.abs(v - Math.round((next[i] as number) * 65535)));
    expect(off.filter((by, i) => by > (i % 4 === 3 ? 0 : 1))).toEqual([]);
    expect(off).toHaveLength(4 * 64 * 48);
  });
});

describe('what a layer does', () => {
  const one: Layout = { width: 1, height: 1, depth: 16, channels: 3 };
  const pixel = async (stack: Stack, v: number): Promise<number> => (await floats(stack, one, () => v))[0] as number;

  it('tone: steeper about the middle, then lighter', async () => {
    expect(await pixel(stackOf(layer('tone', { brightness: 0.1, contrast: 0.5 })), 0.6)).toBeCloseTo(0.8, 4);
  });
  it('levels: by the stated formula', async () => {
    const stack = stackOf(layer('levels', { black: 0.2, white: 0.8, midtone: 2, outBlack: 0.1, outWhite: 0.9 }));
    expect(await pixel(stack, 0.35)).toBeCloseTo(0.1 + 0.8 * Math.sqrt(0.25), 4);
    expect(await pixel(stack, 0.1)).toBeCloseTo(0.1, 5);
  });
  it('a group is mixed as one layer: half of two doublings', async () => {
    const twice = layer('tone', { brightness: 0.2 });
    expect(await pixel(stackOf(group([twice, { ...twice, id: 'again' }], { strength: 0.5 })), 0.3)).toBeCloseTo(0.3 + 0.5 * 0.4, 4);
  });
  it('the master goes beyond the whole look', async () => {
    expect(await pixel({ ...stackOf(layer('tone', { brightness: 0.2 })), master: 1.5 }, 0.3)).toBeCloseTo(0.6, 4);
  });
  it('the gate multiplies own tone and tone beneath', async () => {
    const gate = {
      own: {
        shape: 'straight' as const,
        nodes: [
          [0, 0],
          [1, 1],
        ] as [number, number][],
      },
      beneath: {
        shape: 'straight' as const,
        nodes: [
          [0, 1],
          [1, 0],
        ] as [number, number][],
      },
    };
    expect(await pixel(stackOf(layer('tone', { brightness: 0.4 }, { gate })), 0.2)).toBeCloseTo(0.2 + 0.4 * 0.6 * 0.8, 4);
  });
  it('reading the photo leaves out what is below', async () => {
    const stack = stackOf(layer('tone', { brightness: 0.5 }), layer('tone', { brightness: 0.1 }, { reads: 'photo' }));
    expect(await pixel(stack, 0.2)).toBeCloseTo(0.3, 4);
  });
  it('a neutral layer leaves half-transparent pixels alone, and blurs keep their coverage', async () => {
    const layout: Layout = { width: 40, height: 30, depth: 16, channels: 4 };
    const out = await floats(stackOf(layer('tone', { brightness: 1e-4 }), layer('blur', { radius: 0.02 })), layout, (i) =>
      i % 4 === 3 ? 0.5 : 0.25,
    );
    expect(Math.max(...out.map((v, i) => Math.abs(v - (i % 4 === 3 ? 0.5 : 0.125))))).toBeLessThan(5e-4);
  });
});

describe('histograms of an open layer', () => {
  it('count every pixel by its own tone and the tone beneath', async () => {
    const engine = await newEngine();
    fill(engine, { width: 20, height: 10, depth: 8, channels: 3 }, () => 100 / 255);
    const open = layer('tone', { brightness: 50 / 255 });
    const tones = engine.render({ stack: stackOf(open), format: 'screen', watch: open.id })?.tones;
    expect(tones?.beneath[100]).toBe(200);
    expect(tones?.own[150]).toBe(200);
  });
});

describe('a pool', () => {
  it('stops between tiles when told to, and works on afterwards', async () => {
    const engine = await newEngine();
    fill(engine, { width: 600, height: 400, depth: 8, channels: 3 }, () => 0.5);
    const stack = stackOf(layer('blur', { radius: 0.02 }));
    expect(engine.render({ stack, format: 'rgb8', begun: (words) => control.stop(words) })).toBeUndefined();
    expect(engine.render({ stack, format: 'rgb8' })).toBeDefined();
  });

  it('gives every tile to one worker only', () => {
    const words = new Int32Array(new SharedArrayBuffer(CONTROL_WORDS * 4));
    const [a, b] = [new Pool(words, 0, 2), new Pool(words, 1, 2)];
    expect([a.next(), b.next(), a.next(), b.next()]).toEqual([0, 1, 2, 3]);
  });
});
