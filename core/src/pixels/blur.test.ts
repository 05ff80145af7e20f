import { layer, newEngine, scene, stackOf } from '../../test/kernels';
import { gaussianTaps, pyramidFor } from './pyramid';

/** The true Gaussian in double precision, cut where it no longer counts; the border pixel goes on for ever. */
function exact(image: Float64Array, w: number, h: number, sigma: number): Float64Array {
  const radius = Math.ceil(5 * sigma);
  const taps = Float64Array.from({ length: radius + 1 }, (_, i) => Math.exp((-i * i) / (2 * sigma * sigma)));
  const sum = taps.reduce((total, t, i) => total + (i ? 2 * t : t), 0);
  const pass = (from: Float64Array, n: number, lines: number, step: number, skip: number): Float64Array => {
    const out = new Float64Array(from.length);
    const line = new Float64Array(n + 2 * radius);
    for (let l = 0; l < lines; l++) {
      for (let i = 0; i < line.length; i++) {
        const at = i - radius;
        line[i] = from[l * skip + (at < 0 ? 0 : at >= n ? n - 1 : at) * step] as number;
      }
      // A line of one value stays so.
      if (line.every((v) => v === line[0])) {
        for (let i = 0; i < n; i++) out[l * skip + i * step] = line[0] as number;
        continue;
      }
      for (let i = 0; i < n; i++) {
        let v = (taps[0] as number) * (line[i + radius] as number);
        for (let k = 1; k <= radius; k++) v += (taps[k] as number) * ((line[i + radius - k] as number) + (line[i + radius + k] as number));
        out[l * skip + i * step] = v / sum;
      }
    }
    return out;
  };
  return pass(pass(image, w, h, 1, w), h, w, w, 1);
}

async function blurred(image: Float64Array, w: number, h: number, sigma: number): Promise<Float64Array> {
  const engine = await newEngine();
  const bytes = engine.open({ width: w, height: h, depth: 16, channels: 3 });
  image.forEach((v, i) => {
    const word = Math.round(v * 65535);
    for (let c = 0; c < 3; c++) bytes.set([word & 255, word >> 8], 6 * i + 2 * c);
  });
  const rendered = engine.render({ stack: stackOf(layer('blur', { radius: sigma / Math.max(w, h) })), format: 'float' });
  const floats = new Float32Array(rendered?.pixels.slice().buffer ?? new ArrayBuffer(0));
  return Float64Array.from({ length: w * h }, (_, i) => floats[4 * i] as number);
}

const scenes = {
  photo: (w: number, h: number) =>
    scene(w, h, 3)
      .filter((_, i) => i % 3 === 0)
      .map((v) => Math.round(v * 65535) / 65535),
  step: (w: number, h: number) => Float64Array.from({ length: w * h }, (_, i) => (i % w < w / 2 ? 0 : 1)),
  impulse: (w: number, h: number) => Float64Array.from({ length: w * h }, (_, i) => (i === Math.floor(h / 2) * w + Math.floor(w / 2) ? 1 : 0)),
};

const trials: [number, number, number][] = [
  [0.5, 120, 90],
  [1, 120, 90],
  [2.8, 120, 90],
  [3.35, 120, 90],
  [3.45, 130, 91],
  [3.5, 121, 96],
  [5.8, 203, 90],
  [6.95, 203, 90],
  [13.9, 260, 150],
  [27.8, 500, 220],
  [30, 401, 160],
  [110, 901, 24],
  [300, 1801, 12],
];

describe.each(trials)('Gaussian of sigma %d at %d x %d', (sigma, w, h) => {
  it.each(Object.keys(scenes) as (keyof typeof scenes)[])('is true within an 8-bit level on a %s', async (name) => {
    const image = scenes[name](w, h);
    const truth = exact(image, w, h, sigma);
    const ours = await blurred(image, w, h, sigma);
    const peak = name === 'impulse' ? truth.reduce((a, b) => Math.max(a, b), 0) : 1;
    const errors = ours.map((v, i) => (Math.abs(v - (truth[i] as number)) / peak) * 255);
    expect(errors.reduce((a, b) => Math.max(a, b), 0)).toBeLessThan(1);
    expect(Math.sqrt(errors.reduce((sum, e) => sum + e * e, 0) / errors.length)).toBeLessThan(0.25);
  });
});

it.each([3.6, 6.95, 7.5, 13.9, 27.9])('answers to a single pixel alike wherever it falls: sigma %d', async (sigma) => {
  const [w, h] = [131, 122];
  for (const [dx, dy] of [
    [0, 0],
    [1, 0],
    [2, 1],
    [3, 2],
    [1, 3],
    [6, 5],
    [7, 7],
  ] as const) {
    const at = (60 + dy) * w + 64 + dx;
    const image = Float64Array.from({ length: w * h }, (_, i) => (i === at ? 1 : 0));
    const truth = exact(image, w, h, sigma);
    const ours = await blurred(image, w, h, sigma);
    const peak = truth[at] as number;
    expect(ours.reduce((most, v, i) => Math.max(most, (Math.abs(v - (truth[i] as number)) / peak) * 255), 0)).toBeLessThan(1);
  }
});

it('makes of bytes what it makes of words', async () => {
  const [w, h] = [203, 90];
  const values = Array.from(scene(w, h, 3), (v) => Math.round(v * 255));
  for (const sigma of [2, 5, 9, 40]) {
    const made = await Promise.all(
      ([8, 16] as const).map(async (depth) => {
        const engine = await newEngine();
        const bytes = engine.open({ width: w, height: h, depth, channels: 3 });
        bytes.set(depth === 8 ? values : values.flatMap((v) => [v, v]));
        const rendered = engine.render({ stack: stackOf(layer('blur', { radius: sigma / w })), format: 'float' });
        return new Float32Array(rendered?.pixels.slice().buffer ?? new ArrayBuffer(0));
      }),
    );
    const [eight = new Float32Array(), sixteen = new Float32Array()] = made;
    expect(eight.reduce((most, v, i) => Math.max(most, Math.abs(v - (sixteen[i] as number))), 0)).toBeLessThan(1e-6);
  }
});

it('treats left and right, top and bottom alike', async () => {
  const [w, h, sigma] = [151, 97, 9];
  const image = scenes.photo(w, h);
  const turned = Float64Array.from(image).reverse();
  const a = await blurred(image, w, h, sigma);
  const b = (await blurred(turned, w, h, sigma)).reverse();
  // Halving puts its grid from the left, so the two differ by what the pyramid itself is off.
  expect(a.reduce((most, v, i) => Math.max(most, Math.abs(v - (b[i] as number)) * 255), 0)).toBeLessThan(0.5);
});

it('leaves a flat picture flat, to the border', async () => {
  for (const sigma of [1, 3.5, 9, 20]) {
    const flat = await blurred(new Float64Array(200 * 60).fill(0.5), 200, 60, sigma);
    expect(flat.reduce((most, v) => Math.max(most, Math.abs(v - 0.5)), 0)).toBeLessThan(5e-5);
  }
});

it('keeps the taps of every factor few and their sum 1', () => {
  for (let sigma = 0.5; sigma < 400; sigma *= 1.07) {
    const { taps } = pyramidFor(sigma);
    expect(taps.length).toBeLessThan(15);
    expect(taps.reduce((sum, t, i) => sum + (i ? 2 * t : t), 0)).toBeCloseTo(1, 5);
  }
  expect(gaussianTaps(0.2).length).toBe(2);
});
