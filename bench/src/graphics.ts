import { createRequire } from 'node:module';
import { emptyMask, newPart, type Stack } from '@bexlen/core';
import type { Engine } from '@bexlen/core/engine';
import { Arena } from '@bexlen/core/gpu/arena';
import { GpuMachine } from '@bexlen/core/gpu/machine';
import { GpuPlan, type Ground } from '@bexlen/core/gpu/plan';
import type { Work } from '@bexlen/core/gpu/shader';
import { twelve } from './drag';
import { report, side } from './timing';
import { layer, newEngine, pixelsOf, stackOf } from './work';

const SIZE = { width: 1536, height: 1024 };
/** What a graphics processor in software gets through in the time of a coffee. */
const SMALL = { width: 384, height: 256 };
/** Bytes and operations a second: a phone of the middle class, and a laptop. */
const PHONE = { bytes: 50e9, operations: 500e9 };
const LAPTOP = { bytes: 250e9, operations: 2500e9 };

const msOf = ({ bytes, operations }: Work, by: Work): number => 1000 * Math.max(bytes / by.bytes, operations / by.operations);

/** Found by Dawn. */
async function device(): Promise<GPUDevice> {
  const { create, globals } = createRequire(import.meta.url)('webgpu') as { create: (flags: string[]) => GPU; globals: object };
  Object.assign(globalThis, globals);
  const gpu = create([]);
  const adapter = await gpu.requestAdapter();
  if (!adapter) throw new Error('There is no graphics processor here, not even one in software.');
  // What goes away with its instance while it is used.
  held.push(gpu, adapter);
  return adapter.requestDevice();
}
const held: unknown[] = [];

/** What the frames of some stacks come to, each after the one before, without being made. */
function counted(
  engine: Engine,
  stacks: readonly Stack[],
): readonly { readonly dispatches: number; readonly work: Work; readonly shaders: readonly string[] }[] {
  const ground: Ground = {
    layout: { ...SIZE, depth: 8, channels: 3 },
    images: new Arena(),
    kept: new Map(),
    bytes: new Map([[0, { as: 'bytes', at: 0, layout: { ...SIZE, depth: 8, channels: 3 } }]]),
    tableAt: () => 0,
  };
  let before = new Set<number>();
  return stacks.map((stack) => {
    const { program } = engine.seen({ stack });
    const plan = new GpuPlan(ground, program, before);
    before = new Set(program.steps.map(({ to }) => to));
    plan.make(program.out, { x: 0, y: 0, w: SIZE.width, h: SIZE.height }, { to: 'screen', stride: SIZE.width });
    plan.done();
    const work = plan.dispatches.reduce(
      (sum, { work: { bytes, operations } }) => ({ bytes: sum.bytes + bytes, operations: sum.operations + operations }),
      { bytes: 0, operations: 0 },
    );
    return { dispatches: plan.dispatches.length, work, shaders: plan.dispatches.map(({ source }) => source) };
  });
}

/** What frames come to on a graphics processor: counted, since none may be here; and how long one in software takes for small ones, against our own engine. */
export async function benchGraphics(rounds: number): Promise<void> {
  const [large, small, first] = [await newEngine(), await newEngine(64e6), await newEngine(64e6)];
  large.open({ ...SIZE, depth: 8, channels: 3 });
  const pixels = await pixelsOf(SMALL.width, SMALL.height);
  for (const engine of [small, first]) engine.open({ ...SMALL, depth: 8, channels: 3 }).set(pixels);
  const machine = new GpuMachine(await device());
  const masked = { mask: { ...emptyMask, parts: [newPart('oval', 'a')] } };
  const layers = twelve();
  let count = 0;
  const next = (): number => 0.3 + (0.6 * (++count % 97)) / 97;
  const moved = (at: number) => () => stackOf(...layers.map((it, i) => (i === at ? { ...it, strength: next() } : it)));
  const hazy = (): Stack =>
    stackOf(layer('glow', { ...masked, params: { strength: next() } }), layer('grain', { id: 'g' }), layer('vignette', { ...masked, id: 'v' }));
  const stacks: readonly (readonly [string, number, () => Stack])[] = [
    ['twelve mixed layers, the first one moved', 8, moved(0)],
    ['twelve mixed layers, the last one moved', 8, moved(11)],
    ['glow, grain, vignette, masked', 4, hazy],
    ['band of focus by a lens', 16, () => stackOf(layer('band-focus', { params: { radius: 0.012 * (1 + 1e-6 * ++count), lift: 0 } }))],
  ];
  for (const [name, most, stack] of stacks) {
    const [, , frame, after] = counted(large, [stack(), stack(), stack(), stack()]);
    if (!frame || !after) continue;
    const compiled = after.shaders.filter((source) => !frame.shaders.includes(source)).length;
    const [phone, laptop] = [msOf(frame.work, PHONE), msOf(frame.work, LAPTOP)];
    console.log(
      `${name}, 1.5 MP, counted: ${frame.dispatches} dispatches, ${(frame.work.bytes / 1e6).toFixed(0)} MB, ${(frame.work.operations / 1e9).toFixed(2)} G operations, ${compiled} shaders compiled; ` +
        `${phone.toFixed(1)} ms on a phone (aim ${most}: ${phone <= most ? 'met' : 'MISSED'}), ${laptop.toFixed(1)} ms on a laptop`,
    );
    const draw = async (): Promise<void> => {
      const { program, sources } = small.seen({ stack: stack() });
      await machine.render(program, sources, { format: 'screen', patient: true });
    };
    const times = await side(rounds, { software: draw, processor: () => first.render({ stack: stack(), format: 'screen' }) });
    report(`  the same at 0.1 MP, in software, our engine`, times.software, times.processor, undefined, 0.098);
  }
}
