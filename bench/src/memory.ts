import { execFileSync } from 'node:child_process';
import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import type { Stack } from '@bexlen/core';
import { Workshop } from '@bexlen/render/pool/workshop';
import { exportFile } from './exports';
import { files, layer, photo, stackOf } from './work';

const script = path.join(import.meta.dirname, 'memory.ts');

/** Two blurs, and as many single-pixel layers before them as it takes. */
function stackOfSize(layers: number): Stack {
  const plain = Array.from({ length: layers - 2 }, (_, i) =>
    i % 2
      ? layer('levels', { params: { black: 0.02, midtone: 1.05, white: 1, outBlack: 0, outWhite: 1 } })
      : layer('tone', { params: { brightness: 0.02, contrast: 0.05 } }),
  );
  const blurs = [
    layer('blur', { blend: 'multiply', strength: 0.5, params: { radius: 0.005 } }),
    layer('blur', { blend: 'soft-light', strength: 0.5, params: { radius: 0.02 } }),
  ];
  return stackOf(...plain, ...blurs);
}

/** Peak memory of the whole process of an export, by size and number of layers. */
export async function benchMemory(): Promise<void> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  for (const [width, height, layers, target] of [
    [6000, 4000, 2, 0.5],
    [6000, 4000, 12, 0.5],
    [12000, 8334, 12, 1.2],
  ] as const) {
    const file = path.join(folder, `${width}.jpg`);
    await sharp(photo).resize(width, height, { fit: 'fill' }).jpeg({ quality: 92 }).toFile(file);
    const said = execFileSync(process.execPath, ['--import', 'tsx', script, file, String(layers), path.join(folder, 'out.jpg')], {
      encoding: 'utf8',
    });
    const gigabytes = Number(said.trim()) / 1e6;
    const what = `peak memory, ${Math.round((width * height) / 1e6)} MP, ${layers} layers`;
    console.log(`${what.padEnd(46)} ${gigabytes.toFixed(2).padStart(7)} GB  target ${target}: ${gigabytes <= target ? 'met' : 'MISSED'}`);
  }
  await fs.rm(folder, { recursive: true });
}

const [, self, file, layers, to] = process.argv;
if (self === script && file && to) {
  await exportFile(file, stackOfSize(Number(layers)), new Workshop(files, 2), to);
  console.log(/VmHWM:\s+(\d+)/.exec(await fs.readFile('/proc/self/status', 'utf8'))?.[1]);
  process.exit(0);
}
