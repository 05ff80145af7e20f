import { fill } from '../../test/engine';
import { gpuDevice, softwareGpu } from '../../test/gpu';
import { layer, newEngine, scene, stackOf } from '../../test/kernels';
import type { Engine } from '../engine/engine';
import { GpuMachine, TooLarge } from './machine';
import { Second, Unfit } from './second';

const layout = { width: 90, height: 64, depth: 8, channels: 4 } as const;
const stack = stackOf(layer('exposure', { stops: 0.5 }, { id: 'first' }), layer('glow', {}, { strength: 0.7 }));
async function opened(): Promise<Engine> {
  const engine = await newEngine();
  const values = scene(layout.width, layout.height, layout.channels);
  fill(engine, layout, (i) => values[i] as number);
  return engine;
}
const begun = async (rest: Partial<Parameters<typeof Second.begin>[2]> = {}, engine?: Engine): Promise<Second> => {
  const proving = engine ?? (await newEngine());
  return Second.begin(await softwareGpu(), () => proving, { forced: true, proven: undefined, onLost: () => undefined, patienceMs: 300_000, ...rest });
};
/** Shaders are compiled while the processor goes on. */
async function drawn(second: Second, engine: Engine, order: Parameters<Second['render']>[1]) {
  for (let i = 0; i < 6000; i++) {
    const made = await second.render(engine, order);
    if (made) return made;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('it was never ready');
}

it('proves itself, then draws what the processor draws, with the tones of a watched layer', async () => {
  const [second, engine, other] = [await begun(), await opened(), await opened()];
  for (const format of ['screen', 'rgba8'] as const) {
    const order = { stack, format, watch: 'first' };
    const made = await drawn(second, other, order);
    const wanted = engine.render(order);
    expect(wanted?.pixels.every((v, i) => Math.abs(v - (made.pixels[i] ?? NaN)) <= 1)).toBe(true);
    for (const of of ['own', 'beneath'] as const) {
      const [one, two] = [wanted?.tones?.[of] ?? [], made.tones?.[of] ?? []];
      expect([...two].reduce((sum, v) => sum + v, 0)).toBe(layout.width * layout.height);
      // A tone at the border of two counts may fall to either.
      expect([...one].reduce((sum, v, i) => sum + Math.abs(v - (two[i] ?? NaN)), 0)).toBeLessThan(20);
    }
  }
  second.end();
});

it('draws a part, and a moved fader compiles nothing', async () => {
  const [second, engine, other] = [await begun({ proven: undefined }), await opened(), await opened()];
  const area = { x: 20, y: 11, w: 33, h: 40 };
  await drawn(second, other, { stack, format: 'screen', area });
  const moved = stackOf(layer('exposure', { stops: -0.3 }), layer('glow', {}, { strength: 0.4 }));
  // At once: were anything compiled, there would be no picture this time.
  const made = await second.render(other, { stack: moved, format: 'screen', area });
  const wanted = engine.render({ stack: moved, format: 'screen', area });
  expect(wanted?.pixels.every((v, i) => Math.abs(v - (made?.pixels[i] ?? NaN)) <= 1)).toBe(true);
  second.end();
});

it('is not asked for what would take long, and draws on', async () => {
  const [engine, machine] = [await newEngine(), new GpuMachine(await gpuDevice())];
  fill(engine, { width: 1200, height: 800, depth: 8, channels: 3 }, (i) => (i % 7) / 7);
  const { program, sources } = engine.seen({ stack: stackOf(...['a', 'b', 'c', 'd'].map((id) => layer('brushwork', { size: 0.01 }, { id }))) });
  await expect(machine.render(program, sources, { format: 'screen', patient: true })).rejects.toThrow(TooLarge);
  const other = (await opened()).seen({ stack });
  expect(await machine.render(other.program, other.sources, { format: 'screen', patient: true })).toBeDefined();
  machine.end();
});

it('says in a sentence why it does not draw', async () => {
  await expect(Second.begin(undefined, () => undefined as never, { forced: false, proven: undefined, onLost: () => undefined })).rejects.toThrow(
    'This browser does not offer its graphics processor.',
  );
  await expect(begun({ forced: false })).rejects.toThrow('There is no graphics processor here.');
  const engine = await newEngine();
  const { render } = engine;
  engine.render = (order) => {
    const made = render.call(engine, order);
    made?.pixels.fill(90, 3000, 3300);
    return made;
  };
  let lost = 0;
  await expect(begun({ onLost: () => lost++ }, engine)).rejects.toThrow('Its pictures differ from those of the processor.');
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(lost).toBe(0);
});

it('tells when it is lost, and is of no use from then on', async () => {
  let lost = 0;
  const [second, engine] = [await begun({ onLost: () => lost++ }), await opened()];
  await drawn(second, engine, { stack, format: 'screen' });
  second['device'].destroy();
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(lost).toBe(1);
  await expect(second.render(engine, { stack, format: 'screen' })).rejects.toThrow(Unfit);
});
