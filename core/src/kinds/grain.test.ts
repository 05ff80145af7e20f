import { asItCame } from '../geometry/geometry';
import { shapeOf } from '../geometry/shape';
import { fill, floats } from '../../test/engine';
import { layer, newEngine, stackOf } from '../../test/kernels';
import type { Layout } from '../pixels/picture';

const MIDDLE = 128 / 255;
/** Red of a grey photo under grain, as it differs from grey. */
async function grainAt(edge: number, params: object): Promise<{ width: number; height: number; at: Float64Array }> {
  const layout: Layout = { width: edge, height: Math.round((edge * 2) / 3), depth: 8, channels: 3 };
  const made = await floats(stackOf(layer('grain', { amount: 0.4, middle: 0, ...params }, { revision: 2 })), layout, () => MIDDLE);
  return { ...layout, at: Float64Array.from({ length: layout.width * layout.height }, (_, i) => (made[4 * i] as number) - MIDDLE) };
}
function halved({ width, height, at }: { width: number; height: number; at: Float64Array }): typeof at {
  const [w, h] = [width >> 1, height >> 1];
  return Float64Array.from({ length: w * h }, (_, i) => {
    const from = 2 * Math.floor(i / w) * width + 2 * (i % w);
    return ([from, from + 1, from + width, from + width + 1] as const).reduce((sum, p) => sum + (at[p] as number), 0) / 4;
  });
}
const deviation = (at: Float64Array): number => Math.sqrt(at.reduce((sum, v) => sum + v * v, 0) / at.length);
/** Power of rows at a frequency in cycles a pixel, summed over some rows and some frequencies beside it. */
function powerAt(at: Float64Array, width: number, frequency: number): number {
  let sum = 0;
  for (const f of [-0.02, -0.01, 0, 0.01, 0.02].map((off) => frequency + off)) {
    const turns = Array.from({ length: width }, (_, x) => [Math.cos(2 * Math.PI * f * x), Math.sin(2 * Math.PI * f * x)] as const);
    for (let row = 0; row + width <= at.length; row += 2 * width) {
      let [re, im] = [0, 0];
      turns.forEach(([c, s], x) => {
        re += (at[row + x] as number) * c;
        im += (at[row + x] as number) * s;
      });
      sum += re * re + im * im;
    }
  }
  return sum;
}

describe('grain in small pictures', () => {
  it.each([
    [450, 16],
    [450, 40],
    [500, 24],
  ])('at %d pixels and %d micrometres is that of a picture twice as large, reduced', async (edge, size) => {
    const [small, large] = [await grainAt(edge, { size }), await grainAt(2 * edge, { size })];
    const reduced = halved(large);
    const ratio = deviation(small.at) / deviation(reduced);
    expect(ratio).toBeGreaterThan(0.9);
    expect(ratio).toBeLessThan(1.1);
    for (const share of [0.1, 0.25, 0.5, 0.75]) {
      const power = powerAt(small.at, edge, share / 2) / powerAt(reduced, edge, share / 2);
      expect({ share, power, within: Math.abs(power - 1) < 0.25 }).toMatchObject({ within: true });
    }
  });
});

const layout: Layout = { width: 90, height: 60, depth: 8, channels: 3 };

it.each([16, 40, 80])('a part at the full size has the grains that the file has there: %d micrometres', async (size) => {
  const grains = { size, roughness: 0.5, softness: 0.4 };
  const whole = await grainAt(layout.width, grains);
  const rect = { x: 31, y: 17, w: 40, h: 30 };
  const engine = await newEngine();
  const part = { ...layout, width: rect.w, height: rect.h };
  fill(engine, part, () => MIDDLE);
  engine.shape(shapeOf(asItCame, { photo: layout, rect, layout: part }, layout, rect));
  const stack = stackOf(layer('grain', { amount: 0.4, middle: 0, ...grains }, { revision: 2 }));
  const seen = new Float32Array(engine.render({ stack, format: 'float' })?.pixels.slice().buffer as ArrayBuffer);
  let worst = 0;
  for (let i = 0; i < rect.w * rect.h; i++) {
    const there = whole.at[(rect.y + Math.floor(i / rect.w)) * layout.width + rect.x + (i % rect.w)] as number;
    worst = Math.max(worst, Math.abs((seen[4 * i] as number) - MIDDLE - there));
  }
  expect(worst).toBeLessThan(1e-6);
});

describe('grain on a film that lies otherwise', () => {
  const at = async (geometry: Partial<typeof asItCame>): Promise<{ width: number; height: number; pixels: Float32Array }> => {
    const engine = await newEngine();
    fill(engine, layout, () => MIDDLE);
    const turned = { ...asItCame, ...geometry };
    const size = turned.turn % 180 === 0 ? layout : { width: 60, height: 90 };
    const patch = { photo: layout, rect: { x: 0, y: 0, w: 90, h: 60 }, layout };
    engine.shape(shapeOf(turned, patch, size, { x: 0, y: 0, w: size.width, h: size.height }));
    const stack = stackOf(layer('grain', { amount: 0.6, size: 80, tint: 1 }, { revision: 2 }));
    const pixels = new Float32Array(engine.render({ stack, format: 'float' })?.pixels.slice().buffer as ArrayBuffer);
    return { ...size, pixels };
  };
  const value = (it: { width: number; pixels: Float32Array }, x: number, y: number): number => it.pixels[4 * (y * it.width + x)] as number;

  it.each([16, 80])('turns and mirrors with it: %d micrometres', async () => {
    const plain = await at({});
    const [half, quarter, mirrored] = [await at({ turn: 180 }), await at({ turn: 90 }), await at({ mirrored: true })];
    for (const [x, y] of [
      [3, 5],
      [40, 20],
      [80, 55],
    ] as const) {
      expect(value(half, 89 - x, 59 - y)).toBeCloseTo(value(plain, x, y), 5);
      expect(value(quarter, 59 - y, x)).toBeCloseTo(value(plain, x, y), 5);
      expect(value(mirrored, 89 - x, y)).toBeCloseTo(value(plain, x, y), 5);
    }
  });
});
