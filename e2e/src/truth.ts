import fs from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { Engine, instantiate, newMemory } from '@bexlen/core/engine';
import { isPicture, pictureSize, shapeOf, type Layout, type Resources, type Stack } from '@bexlen/core';

const kernels = path.resolve(import.meta.dirname, '../../build/kernels.wasm');

/** A file's pixels under a stack, by the core alone: no server, no page. @param resources what the stack names. */
export async function trueResult(file: string, stack: Stack, resources?: Resources): Promise<{ pixels: Uint8Array; width: number; height: number }> {
  const { data, info } = await sharp(file).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const memory = newMemory(true);
  const engine = new Engine(
    memory,
    await instantiate(await WebAssembly.compile(await fs.readFile(kernels)), memory),
    1,
    undefined,
    undefined,
    undefined,
    resources,
  );
  engine.open({ width: info.width, height: info.height, depth: 8, channels: 3 }).set(data);
  const photo: Layout = { width: info.width, height: info.height, depth: 8, channels: 3 };
  const patch = { photo, rect: { x: 0, y: 0, w: info.width, h: info.height }, layout: photo };
  const size = pictureSize(stack.geometry, photo);
  if (!isPicture(stack.geometry, patch)) engine.shape(shapeOf(stack.geometry, patch, size, { x: 0, y: 0, w: size.width, h: size.height }));
  const made = engine.render({ stack, format: 'rgb8' });
  if (!made) throw new Error('the engine stopped');
  return { pixels: made.pixels.slice(), width: made.width, height: made.height };
}

/** Mean and worst difference of two pictures in 8-bit levels. */
export function difference(a: Uint8Array, b: Uint8Array): { mean: number; worst: number } {
  if (a.length !== b.length) throw new Error(`the pictures differ in size: ${a.length} and ${b.length} bytes`);
  let [sum, worst] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    const d = Math.abs((a[i] as number) - (b[i] as number));
    sum += d;
    worst = Math.max(worst, d);
  }
  return { mean: sum / a.length, worst };
}
