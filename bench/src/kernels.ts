import sharp from 'sharp';
import type { Engine } from '@bexlen/core/engine';
import type { Layer, Stack } from '@bexlen/core';
import { less, report, scaled, side } from './timing';
import { layer, newEngine, pixelsOf, stackOf } from './work';

const WIDTH = 6000;
const HEIGHT = 4000;
const MP = 24;
let nudge = 0;

/** A radius that the engine has not blurred by yet: what it keeps from the last round must not count. */
const fresh = (radius: number): { radius: number } => ({ radius: radius * (1 + ++nudge * 1e-7) });
const render = (engine: Engine, stack: Stack): unknown => engine.render({ stack, format: 'rgb8' });

/** Gaussian blur, 8 bits in and out, one thread each. */
export async function benchBlur(rounds: number): Promise<void> {
  const pixels = await pixelsOf(WIDTH, HEIGHT);
  const raw = { width: WIDTH, height: HEIGHT, channels: 3 } as const;
  const engine = await newEngine();
  engine.open({ width: WIDTH, height: HEIGHT, depth: 8, channels: 3 }).set(pixels);
  sharp.concurrency(1);
  const by = (sigma: number) => (): unknown => render(engine, stackOf(layer('blur', { params: fresh(sigma / WIDTH) })));
  for (const [sigma, target] of [
    [3.5, 0.9],
    [30, 0.15],
    [200, 0.03],
  ] as const) {
    const theirs = (): Promise<Buffer> => sharp(pixels, { raw }).blur(sigma).raw().toBuffer();
    const times = await side(sigma > 100 ? 1 : rounds, { ours: by(sigma), theirs });
    report(`Gaussian, sigma ${sigma}, 24 MP, 1 thread`, times.ours, times.theirs, target, MP);
  }
  const { wide, narrow } = await side(rounds, { wide: by(200), narrow: by(3.5) });
  report('Gaussian, sigma 200 against sigma 3.5', wide, narrow, 0.6);
}

/** Twelve layers that each pixel goes through by itself, of many kinds and in three spaces. */
const mixed = (): Layer[] => [
  layer('exposure', { strength: 0.9 }),
  layer('curves', { strength: 0.8 }),
  layer('white-balance', { params: { warmth: 0.2 } }),
  layer('saturation', { params: { amount: 0.3, protect: 0.5 } }),
  layer('hue-bands'),
  layer('levels', { blend: 'luminosity', strength: 0.7 }),
  layer('tone', { blend: 'soft-light', strength: 0.4 }),
  layer('grade'),
  layer('channel-mix', { strength: 0.2 }),
  layer('film-character', { strength: 0.6 }),
  layer('bleach-bypass', { strength: 0.3 }),
  layer('toning', { strength: 0.3 }),
];

/** Layers that work on single pixels, against copying the same pixels as floats. */
export async function benchPoint(rounds: number): Promise<void> {
  const bytes = await pixelsOf(WIDTH, HEIGHT);
  const engine = await newEngine();
  engine.open({ width: WIDTH, height: HEIGHT, depth: 8, channels: 3 }).set(bytes);
  const raw = { width: WIDTH, height: HEIGHT, channels: 3 } as const;
  const deep = await newEngine();
  const words = Uint16Array.from(bytes, (v) => v * 257);
  deep.open({ width: WIDTH, height: HEIGHT, depth: 16, channels: 3 }).set(new Uint8Array(words.buffer));
  const inDeep = (stack: Stack): unknown => deep.render({ stack, format: 'rgb16' });
  // Behind a layer that mixes the channels, nothing can be baked into the loading of the photo.
  const behind = (...layers: Layer[]): Stack =>
    stackOf(layer('channel-mix', { params: { redFromRed: 0.9, redFromGreen: 0.1, redFromBlue: 0, blueFromRed: 0, blueFromBlue: 1 } }), ...layers);
  const floats = new Float32Array(WIDTH * HEIGHT * 4).fill(0.5);
  const copy = new Float32Array(floats.length);
  const levels = () => layer('levels', { strength: 0.7, params: { black: 0.05, midtone: 1.2, white: 0.95, outBlack: 0, outWhite: 1 } });
  const tone = () => layer('tone', { strength: 0.8, params: { brightness: 0.05, contrast: 0.1 } });
  const times = await side(rounds, {
    memcpy: () => copy.set(floats),
    nothing: () => render(engine, stackOf()),
    table: () => render(engine, stackOf(levels())),
    six: () => render(engine, stackOf(tone(), levels(), tone(), levels(), tone(), levels())),
    twelve: () => render(engine, stackOf(...Array.from({ length: 6 }, () => [tone(), levels()]).flat())),
    deepNothing: () => inDeep(stackOf()),
    deepTable: () => inDeep(stackOf(levels())),
    deepSix: () => inDeep(stackOf(tone(), levels(), tone(), levels(), tone(), levels())),
    behindNothing: () => render(engine, behind()),
    behindTable: () => render(engine, behind(levels())),
    behindSix: () => render(engine, behind(tone(), levels(), tone(), levels(), tone(), levels())),
    mixed: () => render(engine, stackOf(...mixed())),
    sharp: () => sharp(bytes, { raw }).linear(1.1, -5).raw().toBuffer(),
  });
  // Bytes in and out are taken off, so that the layers alone stand against the copy.
  report('one layer with a table, 8 bits, baked', less(times.table, times.nothing), times.memcpy, 2, MP);
  report('six layers, three with tables, 8 bits, baked', less(times.six, times.nothing), times.memcpy, 6, MP);
  report('twelve layers, six with tables, 8 bits, baked', less(times.twelve, times.nothing), times.memcpy, undefined, MP);
  report('one layer with a table, 16 bits, baked', less(times.deepTable, times.deepNothing), times.memcpy, 2, MP);
  report('six layers, three with tables, 16 bits, baked', less(times.deepSix, times.deepNothing), times.memcpy, 6, MP);
  report('one layer with a table, layer by layer', less(times.behindTable, times.behindNothing), times.memcpy, 2, MP);
  report('six layers, three with tables, layer by layer', less(times.behindSix, times.behindNothing), times.memcpy, 6, MP);
  report('twelve layers of many kinds, bytes in and out', times.mixed, times.memcpy, undefined, MP);
  report('the same against sharp doing one linear step', times.mixed, times.sharp, undefined, MP);
}

/** Time against the number of pixels: linear growth is 1. */
export async function benchGrowth(rounds: number): Promise<void> {
  const jobOf = async (width: number, height: number): Promise<() => unknown> => {
    const engine = await newEngine();
    engine.open({ width, height, depth: 8, channels: 3 }).set(await pixelsOf(width, height));
    return () => render(engine, stackOf(layer('tone', { blend: 'screen' }), layer('blur', { blend: 'multiply', params: fresh(0.005) })));
  };
  const jobs = { small: await jobOf(3000, 2000), middle: await jobOf(6000, 4000), large: await jobOf(12000, 8000) };
  const { small, middle, large } = await side(rounds, jobs);
  report('24 MP against 6 MP, a hundred megapixels each', scaled(middle, 100 / 24), scaled(small, 100 / 6), 1.15);
  report('96 MP against 24 MP, a hundred megapixels each', scaled(large, 100 / 96), scaled(middle, 100 / 24), 1.15);
}
