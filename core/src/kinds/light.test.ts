import { fill, floats, worst } from '../../test/engine';
import { layer, newEngine, scene, stackOf } from '../../test/kernels';
import { asItCame } from '../geometry/geometry';
import { shapeOf } from '../geometry/shape';
import type { Layout } from '../pixels/picture';
import { decode } from '../pixels/colour';

const layout: Layout = { width: 150, height: 100, depth: 16, channels: 3 };
const all = scene(150, 100, 3);
const seen = (i: number): number => all[i] as number;

/** Dark but for a square in the middle. */
const lamp = (i: number): number => {
  const [x, y] = [Math.floor(i / 3) % 150, Math.floor(i / 450)];
  return Math.abs(x - 75) < 12 && Math.abs(y - 50) < 12 ? 0.96 : 0.08;
};
/** Mean of linear light, of each channel. */
function light(picture: Float32Array): number[] {
  const sums = [0, 0, 0];
  picture.forEach((v, i) => i % 4 < 3 && (sums[i % 4] = (sums[i % 4] as number) + decode(v)));
  return sums.map((sum) => sum / (picture.length / 4));
}
const at = (picture: Float32Array, x: number, y: number): number[] => [...picture.slice(4 * (y * 150 + x), 4 * (y * 150 + x) + 3)];

describe('light that spreads', () => {
  it.each([
    ['bloom', { threshold: 0, knee: 0, amount: 0.6, radius: 0.01 }],
    ['bloom', { threshold: 0.7, amount: 1, radius: 0.01 }],
    ['halation', { threshold: 0, amount: 1, size: 400 }],
    ['soft-focus', { strength: 0.8, radius: 0.006 }],
  ] as const)('neither makes light nor loses any: %s %j', async (kind, params) => {
    const plain = light(await floats(stackOf(), layout, lamp));
    const spread = light(await floats(stackOf(layer(kind, params)), layout, lamp));
    plain.forEach((v, c) => expect(Math.abs((spread[c] as number) / v - 1)).toBeLessThan(0.005));
  });
  it('reaches the dark around a lamp; halation reddens it', async () => {
    const plain = await floats(stackOf(), layout, lamp);
    const bloom = await floats(stackOf(layer('bloom', { amount: 1, radius: 0.03 })), layout, lamp);
    expect(at(bloom, 92, 50)[0]).toBeGreaterThan((at(plain, 92, 50)[0] as number) + 0.05);
    const [r = 0, g = 0, b = 0] = at(await floats(stackOf(layer('halation', { amount: 1, size: 900 })), layout, lamp), 90, 50);
    expect(r).toBeGreaterThan(g + 0.05);
    expect(g).toBeGreaterThanOrEqual(b);
  });
  it.each(['glow', 'light-leak', 'mist'] as const)('%s bends towards white and never past it', async (kind) => {
    const params = { glow: { strength: 1, shadows: 1, radius: 0.05 }, 'light-leak': { amount: 1, size: 1 }, mist: { amount: 1, tone: 1 } }[kind];
    const made = await floats(stackOf(layer(kind, params as never)), layout, (i) => 0.6 + 0.4 * seen(i));
    expect(Math.max(...made)).toBeLessThanOrEqual(1 + 1e-5);
  });
  it.each(['glow', 'bloom', 'soft-focus', 'halation', 'orton', 'veil', 'high-pass'] as const)(
    '%s leaves no rim at the border of an even picture',
    async (kind) => {
      const made = await floats(stackOf(layer(kind, kind === 'veil' ? { grain: 0 } : {})), layout, () => 0.55);
      const first = made.slice(0, 3);
      expect(Math.max(...made.filter((_, i) => i % 4 < 3).map((v, i) => Math.abs(v - (first[i % 3] as number))))).toBeLessThan(2e-3);
    },
  );
});

describe('edges', () => {
  const step = (i: number): number => (Math.floor(i / 3) % 150 < 75 ? 0.3 : 0.7);
  it('sharpening keeps its rims within their limits, and leaves even places alone', async () => {
    const made = await floats(stackOf(layer('sharpen', { amount: 5, radius: 0.01, light: 0.1, dark: 0.05 })), layout, step);
    const reds = made.filter((_, i) => i % 4 === 0);
    expect(Math.max(...reds)).toBeLessThan(0.7 + 0.1);
    expect(Math.max(...reds)).toBeGreaterThan(0.74);
    expect(Math.min(...reds)).toBeGreaterThan(0.3 - 0.05);
    expect(at(made, 10, 50)[0]).toBeCloseTo(0.3, 4);
  });
  it('high pass shows detail on middle grey', async () => {
    const made = await floats(stackOf(layer('high-pass', { radius: 0.01 })), layout, step);
    expect(at(made, 10, 50)[0]).toBeCloseTo(0.5, 3);
    expect(at(made, 76, 50)[0]).toBeGreaterThan(0.55);
    expect(at(made, 73, 50)[0]).toBeLessThan(0.45);
  });
});

describe('what lies on the film', () => {
  it.each(['dust-scratches', 'light-leak', 'mist'] as const)('%s stays on its place when the picture is cropped', async (kind) => {
    const stack = stackOf(layer(kind, kind === 'mist' ? { spread: 'graduated', softness: 0 } : {}));
    const whole = await floats(stack, layout, seen);
    const geometry = { ...asItCame, crop: { x: 0.2, y: 0.3, width: 0.6, height: 0.5 } };
    const engine = await newEngine();
    fill(engine, layout, seen);
    engine.shape(
      shapeOf(geometry, { photo: layout, rect: { x: 0, y: 0, w: 150, h: 100 }, layout }, { width: 90, height: 50 }, { x: 0, y: 0, w: 90, h: 50 }),
    );
    const part = new Float32Array(engine.render({ stack, format: 'float' })?.pixels.slice().buffer as ArrayBuffer);
    const cut = new Float32Array(part.length);
    for (let y = 0; y < 50; y++) cut.set(whole.subarray(4 * ((y + 30) * 150 + 30), 4 * ((y + 30) * 150 + 120)), 4 * 90 * y);
    expect(worst(part, cut)).toBeLessThan(1e-4);
  });
  it('a border lies on the cropped picture, all around alike', async () => {
    const made = await floats(stackOf(layer('border', { inset: 0.3, lightness: 0, amount: 0 })), layout, () => 0.8);
    for (const [x, y] of [
      [0, 50],
      [149, 50],
      [75, 0],
      [75, 99],
      [4, 4],
      [145, 95],
    ] as const)
      expect(at(made, x, y)[1]).toBeCloseTo(0, 3);
    expect(at(made, 75, 50)[1]).toBeCloseTo(0.8, 4);
    expect(at(made, 7, 50)).toEqual(at(made, 142, 50));
  });
});

describe('skies of 16 bits', () => {
  const sky: Layout = { width: 2000, height: 4, depth: 16, channels: 3 };
  const rising = (i: number): number => 0.4 + (0.2 * (Math.floor(i / 3) % 2000)) / 2000 + 0.02 * (i % 3);
  const longestRun = (values: Uint16Array): number => {
    let [run, most] = [1, 1];
    for (let x = 1; x < 2000; x++) {
      run = values[3 * x] === values[3 * (x - 1)] ? run + 1 : 1;
      most = Math.max(most, run);
    }
    return most;
  };
  it.each(['glow', 'orton', 'bloom', 'soft-focus', 'mist', 'halation', 'sharpen'] as const)('stay free of bands through %s', async (kind) => {
    const engine = await newEngine();
    fill(engine, sky, rising);
    const made = engine.render({ stack: stackOf(layer(kind)), format: 'rgb16' })?.pixels.slice();
    expect(longestRun(new Uint16Array(made?.buffer as ArrayBuffer))).toBeLessThanOrEqual(2);
  });
});

describe('dust', () => {
  it('covers as much at any size', async () => {
    const cover = async (width: number): Promise<number> => {
      const size: Layout = { width, height: (width * 2) / 3, depth: 8, channels: 3 };
      const made = await floats(stackOf(layer('dust-scratches', { amount: 1, strength: 1 })), size, () => 0);
      return made.reduce((sum, v, i) => sum + (i % 4 === 0 ? v : 0), 0) / (made.length / 4);
    };
    const [small, large] = [await cover(300), await cover(1200)];
    expect(large).toBeGreaterThan(0.001);
    expect(Math.abs(small / large - 1)).toBeLessThan(0.25);
  });
});
