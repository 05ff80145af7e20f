import type { Engine } from '../src/engine/engine';
import type { Stack } from '../src/stack/schema';
import type { Layout } from '../src/pixels/picture';
import { fastKernels, newEngine } from './kernels';

/** Opens a photo whose channels are values 0..1. */
export function fill(engine: Engine, layout: Layout, values: (i: number) => number): void {
  const bytes = engine.open(layout);
  const most = layout.depth === 8 ? 255 : 65535;
  const count = layout.width * layout.height * layout.channels;
  for (let i = 0; i < count; i++) {
    const v = Math.round(values(i) * most);
    if (layout.depth === 8) bytes[i] = v;
    else {
      bytes[2 * i] = v & 255;
      bytes[2 * i + 1] = v >> 8;
    }
  }
}

/** The picture of a stack in the working form. */
export async function floats(stack: Stack, layout: Layout, values: (i: number) => number, tile?: number, make = fastKernels): Promise<Float32Array> {
  const engine = await newEngine(make);
  fill(engine, layout, values);
  const rendered = engine.render({ stack, format: 'float', ...(tile && { tile: { width: tile, height: tile } }) });
  if (!rendered) throw new Error('stopped');
  return new Float32Array(rendered.pixels.slice().buffer);
}

/** The largest difference. */
export const worst = (a: Float32Array, b: Float32Array | Float64Array): number => {
  expect(a.length).toBe(b.length);
  let most = 0;
  a.forEach((v, i) => (most = Math.max(most, Math.abs(v - (b[i] as number)))));
  return most;
};
