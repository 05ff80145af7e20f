/**
 * The second machine: programs carried out by a graphics processor. Read in this order: `shader.ts` turns steps into shaders, `plan.ts` a program into dispatches of them, with images
 * in places of an `arena.ts` and numbers as `words.ts`; `machine.ts` carries them out; `proof.ts` compares both machines, and `second.ts` is what is asked for frames.
 */
export { GpuMachine, TooLarge, type Made, type Source } from './machine';
export type { Asked } from './opened';
export { Second, Unfit } from './second';
