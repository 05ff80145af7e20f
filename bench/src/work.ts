import fs from 'node:fs/promises';
import path from 'node:path';
import v8 from 'node:v8';
import sharp from 'sharp';
import { Engine, instantiate, newMemory } from '@bexlen/core/engine';
import { emptyStack, Resources, kindOf, newLayer, type KindLayer, type Layer, type Stack } from '@bexlen/core';
import type { EngineFiles } from '@bexlen/render/pool/pool';

/** What the stacks that are timed name. */
export const resources = new Resources();

export const root = path.resolve(import.meta.dirname, '../..');
export const files: EngineFiles = { worker: path.join(root, 'build/worker.mjs'), kernels: path.join(root, 'build/kernels.wasm') };
export const photo = path.join(root, 'demo/dunes.jpg');

// As the server runs them: at full optimisation from the start.
v8.setFlagsFromString('--no-liftoff');

let count = 0;
export function layer(kind: KindLayer['kind'], { params, ...rest }: Partial<KindLayer> = {}): KindLayer {
  const plain = newLayer(kind, `l${++count}`);
  return { ...plain, ...rest, params: { ...plain.params, ...kindOf(kind).shown, ...params } as KindLayer['params'] };
}
export const stackOf = (...layers: Layer[]): Stack => ({ ...emptyStack, layers });

/** Screen with itself, then its own blur in multiply at 60 %. A nudge makes all of it anew, whatever an engine keeps. */
export const orton = (sigmaPx: number, longEdge: number, nudge = 0): Stack =>
  stackOf(
    layer('tone', { blend: 'screen', strength: 1 - nudge, params: { brightness: 0, contrast: 0 } }),
    layer('blur', { blend: 'multiply', strength: 0.6, params: { radius: sigmaPx / longEdge } }),
  );

export async function newEngine(keepBytes = 0): Promise<Engine> {
  const memory = newMemory(true);
  return new Engine(
    memory,
    await instantiate(await WebAssembly.compile(await fs.readFile(files.kernels)), memory),
    1,
    () => undefined,
    keepBytes,
    undefined,
    resources,
  );
}

/** The demo photo scaled up, as raw pixels. */
export const pixelsOf = (width: number, height: number): Promise<Buffer> =>
  sharp(photo).resize(width, height, { fit: 'fill' }).removeAlpha().raw().toBuffer();
