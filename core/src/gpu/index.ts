export { GpuMachine, TooLarge, type Made, type Source } from './machine';
export { Second, Unfit } from './second';
