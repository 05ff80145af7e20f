import { filmPlaceOf } from '../../geometry/shape';
import { fill, floats, worst } from '../../../test/engine';
import { layer, newEngine, scene, stackOf } from '../../../test/kernels';
import { pyramidFor } from '../../pixels/pyramid';
import { compile } from '../../stack/compile';
import { ValueNumbers, type Step } from '../../stack/program';
import { fused } from './fuse';
import type { Stack } from '../../stack/schema';

const [width, height] = [90, 60];
const values = scene(width, height, 4);
const pixel = (channels: 3 | 4) => (i: number) => (i % channels === 3 ? 1 : (values[4 * Math.floor(i / channels) + (i % channels)] as number));
const layoutOf = (channels: 3 | 4) => ({ width, height, depth: 8, channels }) as const;
/** Nothing is fused where a photo has alpha: all goes step by step. */
const byTableAndByStep = (stack: Stack): Promise<[Float32Array, Float32Array]> =>
  Promise.all([floats(stack, layoutOf(3), pixel(3)), floats(stack, layoutOf(4), pixel(4))]);
const stepsOf = (stack: Stack): readonly Step[] => fused(compile(stack, filmPlaceOf(layoutOf(3)), new ValueNumbers()), new Set(), layoutOf(3)).steps;

const mixed = layer('channel-mix', { redFromRed: 0.8, redFromBlue: 0.2 });
const levels = layer('levels', { black: 0.05, midtone: 1.2, white: 0.95 }, { strength: 0.7 });
const tone = layer('tone', { brightness: 0.05, contrast: 0.1 }, { blend: 'overlay', strength: 0.8 });
const exposure = layer('exposure', { stops: -0.4 });

describe('runs of steps on each channel alone', () => {
  const stack = stackOf(mixed, tone, levels, exposure, tone);

  it('are one step', () => {
    expect(stepsOf(stack).map((step) => step.do)).toEqual(['point', 'fused']);
  });

  it('give about what they give step by step', async () => {
    const [byTable, byStep] = await byTableAndByStep(stack);
    expect(worst(byTable, byStep)).toBeLessThan(1 / 2040);
    expect(worst(byTable, byStep)).toBeGreaterThan(0);
  });

  it('have a table for each channel, where the channels differ', async () => {
    const warm = layer('curves', {
      red: {
        shape: 'smooth',
        nodes: [
          [0, 0.1],
          [0.5, 0.6],
          [1, 1],
        ],
      },
      blue: {
        shape: 'smooth',
        nodes: [
          [0, 0],
          [0.5, 0.4],
          [1, 0.9],
        ],
      },
    });
    const apart = stackOf(mixed, warm, levels);
    expect(stepsOf(apart).at(-1)).toMatchObject({ do: 'fused', alike: false });
    const [byTable, byStep] = await byTableAndByStep(apart);
    expect(worst(byTable, byStep)).toBeLessThan(1 / 2040);
  });

  it('keep values outside 0..1', async () => {
    const bright = stackOf(
      layer('channel-mix', { redFromRed: 1.9, greenFromBlue: -0.6 }),
      layer('exposure', { stops: 0.5 }),
      layer('tone', { contrast: 0.3 }),
    );
    expect(stepsOf(bright).at(-1)?.do).toBe('fused');
    const [byTable, byStep] = await byTableAndByStep(bright);
    expect(Math.max(...byStep)).toBeGreaterThan(1);
    expect(Math.min(...byStep)).toBeLessThan(0);
    expect(worst(byTable, byStep)).toBeLessThan(1 / 2040);
    // What lies beside a value makes no difference to it.
    const values = pixel(3);
    expect(worst(await floats(bright, layoutOf(3), values, 64), byTable)).toBe(0);
    const inside = await floats(bright, layoutOf(3), (i) => (i < 300 ? values(i) : 0.5));
    expect(worst(inside.subarray(0, 400), byTable.subarray(0, 400))).toBe(0);
  });

  it('go step by step where no table tells them closely', async () => {
    const steep = layer('curves', {
      all: {
        shape: 'straight',
        nodes: [
          [0, 0],
          [0.499, 0],
          [0.4991, 1],
          [1, 1],
        ],
      },
    });
    const [byTable, byStep] = await byTableAndByStep(stackOf(mixed, layer('tone', { contrast: 0.9 }), steep, tone, steep, exposure));
    expect(worst(byTable, byStep)).toBeLessThan(1e-4);
  });

  it('begin and end where something else needs a value', () => {
    const forked = stackOf(mixed, tone, levels, layer('blur', { radius: 0.1 }, { blend: 'multiply' }), tone, levels);
    expect(stepsOf(forked).map((step) => step.do)).toEqual(['point', 'fused', 'blur', 'mix', 'fused']);
  });
});

describe('RGB rows', () => {
  it.each([
    ['filtered as they are', 0.015, 1],
    ['at half size', 0.05, 2],
    ['grown by four', 0.12, 4],
    ['grown by eight', 0.25, 8],
  ])('give what rows of pixels give: blurs %s', async (_what, radius, factor) => {
    expect(pyramidFor(radius * width).factor).toBe(factor);
    const stack = stackOf(
      tone,
      layer('blur', { radius }, { blend: 'multiply', strength: 0.6 }),
      layer('tone', { contrast: 0.2 }, { blend: 'screen' }),
    );
    for (const depth of [8, 16] as const) {
      const layout = { width, height, depth, channels: 3 } as const;
      const engine = await newEngine();
      fill(engine, layout, pixel(3));
      const words = new Uint16Array(engine.render({ stack, format: 'rgb16' })?.pixels.slice().buffer ?? new ArrayBuffer(0));
      const pixels = new Float32Array(engine.render({ stack, format: 'float' })?.pixels.slice().buffer ?? new ArrayBuffer(0));
      const clipped = Float32Array.from(words, (_, i) => Math.min(1, Math.max(0, pixels[4 * Math.floor(i / 3) + (i % 3)] as number)));
      expect(
        worst(
          Float32Array.from(words, (v) => v / 65535),
          clipped,
        ),
      ).toBeLessThan(1e-5);
    }
  });
});
