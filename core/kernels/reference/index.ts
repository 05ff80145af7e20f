import { blur } from './blur';
import { brush } from './brush';
import { carry } from './load-store';
import { cube } from './cube';
import { bake } from './baked-lut';
import { grain } from './grain';
import { grow } from './grow';
import { guide } from './guide';
import { halve } from './halve';
import { light } from './light';
import { mix } from './mix';
import { near } from './neighbourhood';
import { paper } from './paper';
import { point } from './colour';
import { shape } from './shape';
import { spread } from './spread';
import { rgbRows } from './rgb-rows';
import { Views } from './views';
import { warp } from './warp';
import { where } from './masks';

/**
 * The kernels in plain TypeScript, on the same memory and with the same signatures as the WebAssembly build. Slow and readable: they
 * are what the fast ones are tested against, and what runs where there is no WebAssembly SIMD.
 */
export function referenceKernels(memory: WebAssembly.Memory) {
  const views = new Views(memory);
  return {
    ...carry(views),
    ...bake(views),
    ...point(views),
    ...rgbRows(views),
    ...halve(views),
    ...blur(views),
    ...grow(views),
    ...mix(views),
    ...light(views),
    ...shape(views),
    ...guide(views),
    ...grain(views),
    ...warp(views),
    ...cube(views),
    ...where(views),
    ...brush(views),
    ...spread(views),
    ...near(views),
    ...paper(views),
  };
}

export type ReferenceKernels = ReturnType<typeof referenceKernels>;
export { mixName } from './mix';
