/**
 * What carries a program out. Read in this order:
 *
 * `engine.ts` holds one photo and makes pictures of it. `planner.ts` turns a program into a plan (`plan.ts`) of passes, each with a route for its tiles (`routes.ts`): what bytes become by tables (`baked.ts`, `tables.ts`), what
 * is fused (`fuse.ts`), what is blurred small (`reductions.ts`), what is written down on the way (`spills.ts`), by what each step costs (`stack/cost.ts`). `perform.ts` is what
 * every worker of a pool (`pool.ts`) does with a plan: pass after pass, tile after tile (`tiles.ts`), each at a workplace of its own (`workplace.ts`), scanline after
 * scanline (`scanlines.ts`), in a pixel format that suits the steps (`pixel-format.ts`). `halving.ts`, `row-bands.ts`, `warp.ts`, `loading.ts` and `storing.ts` are parts of
 * that. `keep-alive.ts` holds what compiled code goes with. `graphics.ts` has a graphics processor draw in its place where there is one, and `worker.ts` is the engine behind a message
 * channel, `pool-start.ts` brings several of them together.
 */
export { Engine, type Order, type Rendered, type Tones } from './engine';
export type { Drawing } from './graphics';
export { startWorker, type FromWorker, type Slot, type ToWorker, type Wire } from './worker';
export { startPool } from './pool-start';
export { control } from './work/pool';
export type { StoreFormat } from './plan/plan';
export { instantiate, newMemory } from '../pixels/kernels';
