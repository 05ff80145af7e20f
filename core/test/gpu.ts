import { GpuMachine } from '../src/gpu';
import { newEngine } from './kernels';
import { fill } from './engine';
import type { Order } from '../src/engine/engine';
import type { Layout } from '../src/pixels/picture';

let gpu: Promise<GPU> | undefined;

/** Where a graphics processor in software is found. */
export function softwareGpu(): Promise<GPU> {
  gpu ??= import('webgpu').then((module) => {
    const { create, globals } = module as unknown as { create: (flags: string[]) => GPU; globals: object };
    Object.assign(globalThis, globals);
    // While a shader is compiled Dawn looks at every turn of the event loop whether it is done, which takes as much of a processor as the compiling.
    globalThis.setImmediate = ((act: () => void) => setTimeout(act, 1)) as unknown as typeof setImmediate;
    return create([]);
  });
  return gpu;
}

let device: Promise<GPUDevice> | undefined;
/** What goes away with its adapter while it is used. */
let adapter: GPUAdapter | null;
export function gpuDevice(): Promise<GPUDevice> {
  device ??= (async () => {
    adapter = await (await softwareGpu()).requestAdapter();
    if (!adapter) throw new Error('there is no graphics processor, not even one in software');
    return adapter.requestDevice();
  })();
  return device;
}

export interface Both {
  readonly cpu: Float32Array;
  readonly gpu: Float32Array;
}

/** The pictures of orders, one after another, made by both machines. */
export async function both(
  layout: Layout,
  values: (i: number) => number,
  orders: readonly Pick<Order, 'stack' | 'area' | 'mask'>[],
): Promise<Both[]> {
  const [engine, other] = [await newEngine(), await newEngine()];
  fill(engine, layout, values);
  fill(other, layout, values);
  const machine = new GpuMachine(await gpuDevice());
  const made: Both[] = [];
  for (const order of orders) {
    const rendered = engine.render({ ...order, format: 'float' });
    if (!rendered) throw new Error('stopped');
    const cpu = new Float32Array(rendered.pixels.slice().buffer);
    const { program, sources } = other.seen(order);
    const second = await machine.render(program, sources, { format: 'float', area: order.area, patient: true });
    if (!second) throw new Error('it was not patient');
    made.push({ cpu, gpu: new Float32Array(second.pixels.slice().buffer) });
  }
  machine.end();
  return made;
}
