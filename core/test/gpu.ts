import { GpuMachine } from '../src/gpu';
import { newEngine } from './kernels';
import { fill } from './engine';
import type { Order } from '../src/engine/engine';
import type { Layout } from '../src/pixels/picture';

let device: Promise<GPUDevice> | undefined;
/** What goes away with its instance while it is used. */
const held: unknown[] = [];

/** A graphics processor in software. */
export function gpuDevice(): Promise<GPUDevice> {
  device ??= (async () => {
    const { create, globals } = (await import('webgpu')) as unknown as { create: (flags: string[]) => GPU; globals: object };
    Object.assign(globalThis, globals);
    const gpu = create([]);
    const adapter = await gpu.requestAdapter();
    held.push(gpu, adapter);
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
    const gpu = new Float32Array((await machine.render(program, sources, 'float', order.area)).buffer);
    made.push({ cpu, gpu });
  }
  machine.end();
  return made;
}
