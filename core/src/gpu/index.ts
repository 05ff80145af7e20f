/**
 * The second machine: programs carried out by a graphics processor. Read in this order: `shader.ts` turns steps into shaders, `plan.ts` a program into dispatches of them, with images
 * in places of an `arena.ts` and numbers as `words.ts`; `machine.ts` carries them out; `proof.ts` compares both machines, `second.ts` is what is asked for frames, and `trust.ts` says how much of it after it was late.
 */
export { GpuMachine, TooLarge, type Made, type Source } from './machine';
export type { Asked } from './opened';
export { Late, Second, Unfit } from './second';
export { Trust } from './trust';
